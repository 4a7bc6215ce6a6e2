/**
 * What went wrong with a part: one vocabulary for mistakes that are made on purpose in the reference, and for causes that
 * are observed on a submission. A class is grouped by these ids.
 */
import * as v from 'valibot';

/**
 * `prior` is how often a mistake is seen in relation to the others (share of a hundred mistakes, judged by those who
 * teach); null for what is only observed and never made on purpose. `name` is what the instructor reads.
 */
export interface CauseKindEntry {
  readonly name: string;
  readonly prior: number | null;
}

const CAUSES = {
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
  'feature-forgotten': { prior: 6, name: 'a feature forgotten' },
  'one-forgotten': { prior: 6, name: 'one of several forgotten' },
  'one-too-many': { prior: 2, name: 'a skipped place filled' },
  'recess-forgotten': { prior: 3, name: 'a recess of a hole forgotten' },
  'default-size': { prior: 4, name: 'a default size left as it was' },
  'blind-for-through': { prior: 3, name: 'a blind hole for a through one' },
  'through-for-blind': { prior: 3, name: 'through for blind' },
  'wall-or-all': { prior: 2, name: 'through one wall mixed up with through all' },
  'drill-point': { prior: 1, name: 'bottom of a hole' },
  'chamfer-reversed': { prior: 3, name: 'a chamfer the wrong way round' },
  'wrong-side': { prior: 4, name: 'extruded to the wrong side' },
  'one-sided': { prior: 4, name: 'one-sided for symmetric' },
  'offset-forgotten': { prior: 2, name: 'an offset of the first plane forgotten' },
  'legs-swapped': { prior: 2, name: 'two legs the wrong way round' },
  'recess-swapped': { prior: 1, name: 'diameter and depth of a recess swapped' },
  'recess-kind': { prior: 1, name: 'counterbore and countersink mixed up' },
  'wrong-order': { prior: 2, name: 'steps in the wrong order' },
  'edges-not-sharp': { prior: 2, name: 'fillets or chamfers on edges that stay sharp' },
  'angle-from-other-side': { prior: 3, name: 'an angle from the other side' },
  'feature-mirrored': { prior: 3, name: 'a feature on the other side' },
  'wrong-count': { prior: 2, name: 'a wrong number of copies' },
  'wrong-variant': { prior: 2, name: 'the values of another variant' },
  'wrong-size': { prior: null, name: 'a size that is wrong' },
  'not-as-drawn': { prior: null, name: 'off center, not flush, not square or not symmetric' },
  'feature-extra': { prior: null, name: 'a feature that the sheet does not show' },
  'wrong-unit': { prior: null, name: 'the whole part in another unit' },
  'wrong-material': { prior: null, name: 'another material' },
  'wrong-hand': { prior: null, name: 'the mirror image of the part' },
  'wrong-plane': { prior: null, name: 'drawn on another plane' },
  'shifted-origin': { prior: null, name: 'origin in another place' },
  'several-bodies': { prior: null, name: 'bodies not merged' },
  'not-closed': { prior: null, name: 'a surface that is not closed' },
  'other-exercise': { prior: null, name: 'the part of another exercise' },
  'typed-not-of-file': { prior: null, name: 'typed numbers of another file' },
} as const satisfies Readonly<Record<string, CauseKindEntry>>;

export type CauseKind = keyof typeof CAUSES;
export const CAUSE_KINDS = Object.keys(CAUSES) as readonly CauseKind[];
export const CauseKindSchema = v.picklist(CAUSE_KINDS);

/** Kinds of mistakes that are made on purpose in the reference. */
export type MistakeKind = { [K in CauseKind]: (typeof CAUSES)[K]['prior'] extends number ? K : never }[CauseKind];
export const MISTAKE_KINDS = CAUSE_KINDS.filter((kind): kind is MistakeKind => CAUSES[kind].prior !== null);
export const MistakeKindSchema = v.picklist(MISTAKE_KINDS);

/** The name of a cause for the instructor. */
export const causeName = (kind: CauseKind): string => CAUSES[kind].name;

/** How often a mistake is made in relation to the others. */
export const priorOf = (kind: MistakeKind): number => CAUSES[kind].prior;

/** What ids of earlier versions are called now: stored reports and settings keep their meaning. */
const RENAMED: Readonly<Record<string, CauseKind>> = {
  'radius-diameter': 'radius-for-diameter',
  'half-or-whole': 'half-for-whole',
  'hole-forgotten': 'one-forgotten',
  'hole-extra': 'feature-extra',
  'step-forgotten': 'feature-forgotten',
  'bevel-reversed': 'chamfer-reversed',
  'rounds-on-rims': 'edges-not-sharp',
};

/** The id of today of a cause; as it is where nothing was renamed. */
export const currentCause = (id: string): string => RENAMED[id] ?? id;
