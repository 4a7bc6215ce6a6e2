/** What a sheet draws without a number and the model has otherwise, together with the sizes that are off with it. */
import { checkValueText, facesOfTarget, kindOf, originShift, type Target } from '#core/check';
import { length } from '#core/vector';

import type { Evidence } from './evidence.ts';
import { isSized, SAME_DEVIATION_MM, wrongSizes, type Observed, type WrongSize } from './size-causes.ts';

interface Drawn {
  readonly target: Target;
  /** mm, or degrees. */
  readonly measured: number;
  readonly uncertainty: number;
  readonly words: (value: string) => string;
  readonly faces: ReadonlySet<number>;
}

/** Checks of one kind that are off by the same, and hang on a face of each other. */
type Group = readonly [Drawn, ...Drawn[]];

/** What lies off center, makes a step, leans, or is not symmetric where the sheet draws it so. */
function drawnOtherwise({ reference, measurement, lines }: Evidence): readonly Drawn[] {
  const wrongIds = new Set(lines.filter(({ verdict }) => verdict !== 'right').map(({ checkId }) => checkId));
  return reference.targets.flatMap((target): Drawn[] => {
    const words = kindOf(target.kind).notAsDrawn;
    const check = measurement.checks.find(({ checkId }) => checkId === target.checkId);
    const measured = check?.measured ?? null;
    if (words === undefined || measured === null || isSized(target) || !wrongIds.has(target.checkId)) return [];
    const faces = new Set(facesOfTarget(target));
    return [{ target, measured, uncertainty: check?.uncertainty ?? 0, words, faces }];
  });
}

const meet = (a: ReadonlySet<number>, b: ReadonlySet<number>): boolean => [...a].some((id) => b.has(id));

const isSame = (a: Drawn, b: Drawn): boolean =>
  a.target.kind === b.target.kind &&
  Math.abs(a.measured - b.measured) <= SAME_DEVIATION_MM + a.uncertainty + b.uncertainty &&
  meet(a.faces, b.faces);

function groupsOf(drawn: readonly Drawn[]): readonly Group[] {
  const groups: [Drawn, ...Drawn[]][] = [];
  for (const one of drawn) {
    const known = groups.find((group) => group.some((other) => isSame(one, other)));
    if (known === undefined) groups.push([one]);
    else known.push(one);
  }
  return groups;
}

/** The faces that all of a group hang on. */
const sharedFaces = ([first, ...others]: Group): ReadonlySet<number> =>
  new Set([...first.faces].filter((id) => others.every(({ faces }) => faces.has(id))));

const isLength = ({ target }: Drawn): boolean => kindOf(target.kind).quantity === 'length';

/** Whether a wrong size is off by as much as what is drawn otherwise, and hangs on a face of it. */
function isOffWith({ target, check, measured }: WrongSize, group: Group): boolean {
  const [first] = group;
  if (!isLength(first) || kindOf(target.kind).quantity !== 'length') return false;
  const room = SAME_DEVIATION_MM + first.uncertainty + (check.uncertainty ?? 0);
  const off = Math.abs(measured - target.nominal);
  return (
    Math.abs(off - first.measured) <= room &&
    group.some(({ faces }) => facesOfTarget(target).some((id) => faces.has(id)))
  );
}

/** Whether a wrong size is told from an axis that all of a group share: it cannot be right where that has moved. */
const isToldFrom = ({ target }: WrongSize, group: Group): boolean =>
  'aboutFaceIds' in target && target.aboutFaceIds.some((id) => sharedFaces(group).has(id));

const namesOf = (labels: readonly string[]): string => labels.join(', ');
const isOrAre = (labels: readonly unknown[]): string => (labels.length === 1 ? 'is' : 'are');

/**
 * Causes of what is drawn without a number, one for all that is off by the same, joined with those of sizes: where both
 * are off by the same length at the same face, they are one mistake.
 */
export function withAsDrawn(evidence: Evidence, sizes: readonly Observed[]): Observed[] {
  const { reference } = evidence;
  const valueOf = ({ target, measured }: Drawn): string =>
    checkValueText(target.kind, measured, { recipe: { unit: reference.unit }, decimals: reference.decimals });
  const wrong = new Map(wrongSizes(evidence).map((size) => [size.target.checkId, size]));
  let left = [...sizes];
  const drawn = groupsOf(drawnOtherwise(evidence)).flatMap((group): Observed[] => {
    const [first, ...more] = group;
    const labels = group.map(({ target }) => target.label);
    const checkIds = group.map(({ target }) => target.checkId);
    const sizeOf = ({ checkIds: [id = ''] }: Observed): WrongSize | undefined => wrong.get(id);
    const off = left.filter((cause) => {
      const size = sizeOf(cause);
      return size !== undefined && isOffWith(size, group);
    });
    const printed = off.find((cause) => sizeOf(cause)?.target.offSheet !== true);
    if (printed !== undefined) {
      // What is printed is told, with what the picture shows of the same.
      const joined: Observed = {
        ...printed,
        certainty: Math.max(printed.certainty, JOINED),
        message: `${printed.message} ${namesOf(labels)}: ${first.words(valueOf(first))}, which may be the same mistake.`,
        checkIds: [...printed.checkIds, ...checkIds],
      };
      left = left.map((cause) => (cause === printed ? joined : cause));
      return [];
    }
    const told = left.filter((cause) => {
      const size = sizeOf(cause);
      return size !== undefined && isToldFrom(size, group);
    });
    left = left.filter((cause) => !off.includes(cause) && !told.includes(cause));
    const labelsOf = (causes: readonly Observed[]): string[] =>
      causes.map((cause) => sizeOf(cause)?.target.label ?? '');
    return [
      {
        id: 'not-as-drawn',
        certainty: more.length + off.length + told.length > 0 ? JOINED : 0.6,
        message: [
          `${namesOf(labels)}: ${first.words(valueOf(first))}.`,
          ...(more.length === 0 ? [] : ['All of them are off by the same, which may be one mistake.']),
          ...(off.length === 0 ? [] : [`${namesOf(labelsOf(off))} ${isOrAre(off)} off by as much.`]),
          ...(told.length === 0
            ? []
            : [
                `${namesOf(labelsOf(told))} ${isOrAre(told)} told from ${more.length === 0 ? 'one of these axes' : 'the axis that they share'}, and off too.`,
              ]),
        ].join(' '),
        checkIds: [...checkIds, ...off.flatMap((cause) => cause.checkIds), ...told.flatMap((cause) => cause.checkIds)],
      },
    ];
  });
  return [...left, ...drawn];
}

/** How sure something is that several checks say. */
const JOINED = 0.85;

/**
 * Whether the part is taken as lying elsewhere by just what features of it are off from each other: one of them has moved
 * then, and to move the whole part would help nothing.
 */
export function isOnlyOneFeature(evidence: Evidence): boolean {
  const { frame } = evidence.measurement;
  if (frame.kind !== 'moved') return false;
  const shiftMm = length(originShift(frame));
  return drawnOtherwise(evidence).some(
    (one) => isLength(one) && Math.abs(one.measured - shiftMm) <= SAME_DEVIATION_MM + one.uncertainty,
  );
}
