/** The forms of build steps, as data: which fields there are, what is chosen and typed in each. No interface code. */

/** Keys and indices that lead to a value within a step, or within the part of a step that holds a field. */
export type FieldPath = readonly (string | number)[];

/** One of several forms that a part of a step can take. */
export interface Choice {
  readonly value: string;
  readonly label: string;
  /** What the part becomes when this is chosen. */
  readonly make: () => unknown;
  readonly fields: readonly Field[];
}

/** A field of a form; its path leads from the step, or from the part that holds it. */
export type Field = { readonly path: FieldPath; readonly label: string } & (
  | { readonly kind: 'length' | 'angle' | 'count'; readonly optional?: string }
  | { readonly kind: 'pick'; readonly options: readonly (readonly [value: string, label: string])[] }
  | { readonly kind: 'flag' }
  | { readonly kind: 'text'; readonly optional?: string }
  | { readonly kind: 'numbers' }
  | {
      readonly kind:
        | 'point'
        | 'points'
        | 'plane'
        | 'axis'
        | 'surface'
        | 'surfaces'
        | 'edges'
        | 'steps'
        | 'outline'
        | 'outlines';
    }
  | { readonly kind: 'optional-surface' | 'optional-steps' }
  /** `of` tells which choice a value is. */
  | { readonly kind: 'choice'; readonly of: (value: unknown) => string; readonly choices: readonly Choice[] }
);

const orNothing = (optional: string | undefined) => (optional === undefined ? {} : { optional });

/** A length; `optional` says what holds where nothing is typed. */
export const length = (path: string, label: string, optional?: string): Field => ({
  kind: 'length',
  path: [path],
  label,
  ...orNothing(optional),
});

/** An angle in degrees; `optional` says what holds where nothing is typed. */
export const angle = (path: string, label: string, optional?: string): Field => ({
  kind: 'angle',
  path: [path],
  label,
  ...orNothing(optional),
});

/** A field for a whole number. */
export const count = (path: string, label: string): Field => ({ kind: 'count', path: [path], label });

/** One way of a field that has several, with the fields that it brings along; `make` gives its first value. */
export const choice = (value: string, label: string, make: () => unknown, ...fields: Field[]): Choice => ({
  value,
  label,
  make,
  fields,
});

/** The `kind` of a value, which tells the choices of most fields apart. */
export const kindOfValue = (value: unknown): string => (value as { readonly kind?: string } | undefined)?.kind ?? '';

/** Something that a step has or has not, with the fields it then shows. */
export const option = (path: string, label: string, make: () => unknown, ...fields: Field[]): Field => ({
  kind: 'choice',
  path: [path],
  label,
  of: (value) => (value === undefined ? 'no' : 'yes'),
  choices: [choice('no', 'none', () => undefined), choice('yes', 'with', make, ...fields)],
});

/** What something is turned or mirrored about: an axis of the plane, or a line with the fields that give it. */
export const axisOrLine = (path: string, label: string, make: () => unknown, ...fields: Field[]): Field => ({
  kind: 'choice',
  path: [path],
  label,
  of: (value) => (typeof value === 'string' ? value : 'line'),
  choices: [
    choice('u', 'the horizontal axis', () => 'u'),
    choice('v', 'the vertical axis', () => 'v'),
    choice('line', 'a line', make, ...fields),
  ],
});

/** Fields that several operations have. */
export const MODE: Field = {
  kind: 'pick',
  path: ['mode'],
  label: 'Material',
  options: [
    ['add', 'is added'],
    ['cut', 'is cut away'],
  ],
};
export const PLANE: Field = { kind: 'plane', path: ['plane'], label: 'Drawn on' };
export const OUTLINES: Field = { kind: 'outlines', path: ['outlines'], label: 'Outlines' };
export const SKIP: Field = { kind: 'numbers', path: ['skip'], label: 'Places left out' };
export const EDGES: Field = { kind: 'edges', path: ['edges'], label: 'Edges' };
export const STEPS: Field = { kind: 'steps', path: ['steps'], label: 'What is copied' };
export const THREAD: readonly Field[] = [
  { kind: 'text', path: ['designation'], label: 'Designation' },
  { kind: 'text', path: ['fit'], label: 'Class', optional: 'not stated' },
  length('length', 'Length', 'as long as the wall'),
];
