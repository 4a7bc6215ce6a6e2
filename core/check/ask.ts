import type { Quantity, Tolerance } from './entries.ts';
import type { ChainRole, Drafting, Span } from './kind.ts';
import { kindOf, type Check, type CheckKind, type Target } from './kinds/index.ts';

/** Whether a check that is a dimension stands on the sheet. */
export const isOnSheet = (check: Check): boolean =>
  check.off !== true && !('onSheet' in check && check.onSheet === false);

type WithSheet<C> = C extends unknown ? ('view' extends keyof C ? C : never) : never;
/** Checks that are lengths of the sheet. */
export type DimensionCheck = WithSheet<Check>;

/** Whether a check is a length that the sheet can give. */
export const isDimension = (check: Check): check is DimensionCheck =>
  'nominal' in check && 'tolerance' in check && kindOf(check.kind).quantity === 'length';

/** Whether a check that fails says where something is wrong: a dimension or a feature, rather than the part as a whole. */
export function saysWhere({ kind }: Pick<Check, 'kind'>): boolean {
  const { group } = kindOf(kind);
  return group === 'dimensions' || group === 'features';
}

/** Faces of the reference that a check is about. */
export const facesOfTarget = (target: Target): readonly number[] => kindOf(target.kind).marks(target);

/** What a dimension spans, by faces of the reference; null where it is no distance. */
export const spanOf = (target: Target): Span<readonly number[]> | null =>
  kindOf(target.kind).spanOfTarget?.(target) ?? null;

/** What a dimension spans, by names of surfaces; null where it is no distance. */
export const spanOfCheck = (check: Check): Span<string> | null => kindOf(check.kind).spanOfCheck?.(check) ?? null;

/** What a check says for the dimension chains of the sheet, besides its span. */
export const chainRoleOf = (target: Target): ChainRole => kindOf(target.kind).chain?.(target) ?? {};

/** How a check is drawn on the sheet: what spans a distance as a linear dimension, if its kind does not say otherwise. */
export function draftingOf(target: Target): Drafting | null {
  const span = spanOf(target);
  return kindOf(target.kind).drafting?.(target) ?? (span === null ? null : { form: 'linear', span });
}

/** What checks of a kind measure. */
export const quantityOfKind = (kind: CheckKind): Quantity => kindOf(kind).quantity;

/**
 * A text that is the same for two checks that measure the same, whatever they are called and weigh. What lies between two
 * surfaces is the same from either of them.
 */
export function subjectOf(check: Check): string {
  const fields = check as Readonly<Record<string, unknown>>;
  const { hangsOn } = kindOf(check.kind);
  const values = hangsOn.map((field) => fields[field]);
  const isBetween = hangsOn[0] === 'from' && hangsOn[1] === 'to';
  const [first, second, ...more] = values;
  return JSON.stringify([check.kind, ...(isBetween ? [...[String(first), String(second)].sort(), ...more] : values)]);
}

/** Kinds that are made by picking surfaces in the part, with how. */
export const pickingOf = (kind: CheckKind) => kindOf(kind).picking ?? null;

/** A new check on picked surfaces, by their names in the order of picking. Its nominal is to be typed. */
export function checkFromSurfaces(
  kind: CheckKind,
  names: readonly string[],
  {
    id,
    label,
    tolerance,
    weight,
  }: { readonly id: string; readonly label: string; readonly tolerance: Tolerance; readonly weight: number },
): Check {
  const definition = kindOf(kind);
  const { fills = [], starts = {} } = definition.picking ?? {};
  const entries = Object.keys(definition.checkSchema.entries);
  const usual: Readonly<Record<string, unknown>> = { nominal: '10', tolerance };
  return {
    id,
    label,
    weight,
    kind,
    ...Object.fromEntries(entries.flatMap((name) => (name in usual ? [[name, usual[name]]] : []))),
    ...starts,
    ...Object.fromEntries(
      fills.map(({ field, list }, i) => [field, list === true ? [names[i] ?? ''] : (names[i] ?? '')]),
    ),
  } as Check;
}
