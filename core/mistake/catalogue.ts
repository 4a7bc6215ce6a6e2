import * as v from 'valibot';

/**
 * The mistakes that students make, with how often each is seen in relation to the others (share of a hundred mistakes,
 * judged by those who teach), and its name for the instructor.
 */
export const CATALOGUE = {
  'radius-for-diameter': { prior: 9, name: 'radius typed for a diameter' },
  'diameter-for-radius': { prior: 5, name: 'diameter typed for a radius' },
  'half-for-whole': { prior: 5, name: 'half of a size used for all of it' },
  'whole-for-half': { prior: 4, name: 'all of a size used for half of it' },
  'wrong-edge': { prior: 7, name: 'measured from the wrong edge' },
  'neighboring-dimension': { prior: 5, name: 'a neighboring dimension read' },
  'letters-swapped': { prior: 2, name: 'two letters mixed up' },
  'digits-swapped': { prior: 2, name: 'two digits swapped' },
  'decimal-point': { prior: 2, name: 'decimal point slipped' },
  'unit-of-one-value': { prior: 2, name: 'one value in the other unit' },
  'step-forgotten': { prior: 6, name: 'a feature forgotten' },
  'one-forgotten': { prior: 6, name: 'one of several forgotten' },
  'one-too-many': { prior: 2, name: 'a skipped place filled' },
  'recess-forgotten': { prior: 3, name: 'a recess of a hole forgotten' },
  'default-size': { prior: 4, name: 'a default size left as it was' },
  'blind-for-through': { prior: 3, name: 'a blind hole for a through one' },
  'through-for-blind': { prior: 3, name: 'through for blind' },
  'wall-or-all': { prior: 2, name: 'through one wall mixed up with through all' },
  'drill-point': { prior: 1, name: 'bottom of a hole' },
  'bevel-reversed': { prior: 3, name: 'a bevel the wrong way round' },
  'wrong-side': { prior: 4, name: 'extruded to the wrong side' },
  'one-sided': { prior: 4, name: 'one-sided for symmetric' },
  'recess-swapped': { prior: 1, name: 'diameter and depth of a recess swapped' },
  'recess-kind': { prior: 1, name: 'counterbore and countersink mixed up' },
  'wrong-order': { prior: 2, name: 'steps in the wrong order' },
  'rounds-on-rims': { prior: 2, name: 'rounds on edges that stay sharp' },
  'angle-from-other-side': { prior: 3, name: 'an angle from the other side' },
  'feature-mirrored': { prior: 3, name: 'a feature on the other side' },
  'wrong-count': { prior: 2, name: 'a wrong number of copies' },
  'wrong-variant': { prior: 2, name: 'the values of another variant' },
} as const satisfies Record<string, { readonly prior: number; readonly name: string }>;
export type MistakeKind = keyof typeof CATALOGUE;
export const MISTAKE_KINDS = Object.keys(CATALOGUE) as readonly MistakeKind[];
export const MistakeKindSchema = v.picklist(MISTAKE_KINDS);
