import type { Outline } from '#core/outline';
import type { Operation, Recipe, Step } from '#core/recipe';

/** A name for a new step that no other step has. */
export function freeId(recipe: Recipe, base: string): string {
  const taken = new Set(recipe.steps.map(({ id }) => id));
  for (let n = 1; ; n++) {
    const id = `${base}${String(n)}`;
    if (!taken.has(id)) return id;
  }
}

const RECTANGLE: Outline = { shape: 'rectangle', center: ['0', '0'], width: '40', height: '30' };
const circle = (diameter: string): Outline => ({ shape: 'circle', center: ['0', '0'], diameter });

/** Sizes of a new step are in mm; in inches they are divided by 25 and rounded. */
const inUnit = (step: Step, unit: Recipe['unit']): Step =>
  unit === 'mm'
    ? step
    : (JSON.parse(
        JSON.stringify(step, (key, value: unknown) =>
          typeof value === 'string' && /^\d+(\.\d+)?$/.test(value) && !['count', 'sides', 'angle', 'id'].includes(key)
            ? String(Math.round((Number(value) / 25) * 8) / 8)
            : value,
        ),
      ) as Step);

/** The last surface that something can be drawn on, or the ground plane for a first step. */
function seat(surfaces: readonly string[]): Step extends infer S ? (S extends { plane: infer P } ? P : never) : never {
  const top = surfaces.findLast((name) => name.endsWith('.end'));
  return top === undefined ? { base: 'XY' } : { surface: top };
}

/** A step of an operation with sizes that usually build, to be changed at once. */
export function newStep(operation: Operation, recipe: Recipe, surfaces: readonly string[]): Step {
  const step = (base: string) => ({ id: freeId(recipe, base) });
  const [first = 'base.end', second = 'base.right'] = surfaces;
  const last =
    recipe.steps.findLast(({ op }) => ['extrude', 'revolve', 'hole', 'loft', 'rib'].includes(op))?.id ?? 'base';
  const walls = surfaces.filter((name) => name.endsWith('wall'));
  const make = (): Step => {
    switch (operation) {
      case 'extrude':
        return {
          ...step('block'),
          op: 'extrude',
          mode: 'add',
          plane: seat(surfaces),
          outlines: [RECTANGLE],
          extent: { kind: 'depth', depth: '10' },
        };
      case 'revolve':
        return {
          ...step('turn'),
          op: 'revolve',
          mode: 'add',
          plane: { base: 'XZ' },
          outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: '20', height: '30' }],
          axis: 'v',
        };
      case 'hole':
        return {
          ...step('hole'),
          op: 'hole',
          plane: seat(surfaces),
          at: { kind: 'points', points: [['0', '0']] },
          diameter: '8',
          depth: { kind: 'through' },
        };
      case 'fillet':
        return { ...step('round'), op: 'fillet', radius: '2', edges: [{ between: [first, second] }] };
      case 'full-round':
        return { ...step('round'), op: 'full-round', sides: ['base.left', 'base.right'], middle: 'base.upper' };
      case 'chamfer':
        return { ...step('bevel'), op: 'chamfer', size: '1', edges: [{ between: [first, second] }] };
      case 'rib':
        return {
          ...step('rib'),
          op: 'rib',
          plane: { base: 'XZ' },
          from: ['0', '20'],
          to: ['20', '10'],
          thickness: '5',
          side: 'right',
        };
      case 'loft':
        return {
          ...step('loft'),
          op: 'loft',
          mode: 'add',
          plane: seat(surfaces),
          outline: circle('20'),
          distance: '20',
          to: circle('12'),
        };
      case 'mirror':
        return { ...step('mirror'), op: 'mirror', plane: { base: 'YZ' }, steps: [last] };
      case 'linear-pattern':
        return {
          ...step('row'),
          op: 'linear-pattern',
          steps: [last],
          direction: { base: 'X' },
          count: '3',
          spacing: '20',
        };
      case 'circular-pattern':
        return { ...step('ring'), op: 'circular-pattern', steps: [last], axis: { base: 'Z' }, count: '4' };
      case 'plane':
        return { ...step('plane'), op: 'plane', by: { kind: 'offset', from: { base: 'XY' }, distance: '10' } };
      case 'axis':
        return { ...step('axis'), op: 'axis', by: { kind: 'square', to: { base: 'XY' }, at: ['0', '0'] } };
      case 'thread':
        return { ...step('thread'), op: 'thread', on: walls.at(-1) ?? 'base.wall', thread: { designation: 'M10x1.5' } };
    }
  };
  return inUnit(make(), recipe.unit);
}

/** The recipe with a step put in after another, or at the end. */
export function withStep(recipe: Recipe, step: Step, afterId: string | null): Recipe {
  const at = afterId === null ? -1 : recipe.steps.findIndex(({ id }) => id === afterId);
  const index = at < 0 ? recipe.steps.length : at + 1;
  return { ...recipe, steps: [...recipe.steps.slice(0, index), step, ...recipe.steps.slice(index)] };
}

export const withoutStep = (recipe: Recipe, id: string): Recipe => ({
  ...recipe,
  steps: recipe.steps.filter((step) => step.id !== id),
});

/** The recipe with a step moved to another place. */
export function moved(recipe: Recipe, id: string, to: number): Recipe {
  const from = recipe.steps.findIndex((step) => step.id === id);
  const step = recipe.steps[from];
  if (step === undefined) return recipe;
  const rest = recipe.steps.filter((other) => other !== step);
  const index = Math.max(0, Math.min(rest.length, to));
  return { ...recipe, steps: [...rest.slice(0, index), step, ...rest.slice(index)] };
}

/** A copy of a step right after it, under a name of its own. */
export function duplicated(recipe: Recipe, id: string): { readonly recipe: Recipe; readonly copy: Step } | null {
  const step = recipe.steps.find((other) => other.id === id);
  if (step === undefined) return null;
  const copy = { ...step, id: freeId(recipe, `${id.replace(/-?\d+$/, '')}-`) };
  return { recipe: withStep(recipe, copy, id), copy };
}

/**
 * The recipe with another name for a step, in everything that refers to it: surfaces, copies, planes. Check plans that
 * name its surfaces are changed by the same rule.
 */
export function renamedIn<T>(document: T, from: string, to: string): T {
  const change = (value: unknown, key: string): unknown => {
    if (typeof value === 'string') {
      if (['label', 'name', 'brief', 'title'].includes(key)) return value;
      if (value === from && ['id', 'steps', 'plane', 'axis', 'adds'].includes(key)) return to;
      return value
        .split('.')
        .map((part, i, parts) => (parts.length > 1 && part === from && i < parts.length - 1 ? to : part))
        .join('.');
    }
    if (Array.isArray(value)) return value.map((item: unknown) => change(item, key));
    if (typeof value === 'object' && value !== null)
      return Object.fromEntries(Object.entries(value).map(([inner, item]) => [inner, change(item, inner)]));
    return value;
  };
  return change(document, '') as T;
}
