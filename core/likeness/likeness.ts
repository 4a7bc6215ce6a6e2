/**
 * Hand-ins that are alike in a way that chance does not explain. It is evidence to look at, never a verdict: right parts are
 * all alike by nature, and so are parts with a mistake that many make.
 */
import type { MassProperties } from '#core/solid';

/** The newest measured attempt of a student. */
export interface HandIn {
  readonly attemptId: number;
  readonly studentId: number;
  readonly fileSha256: string;
  /** Of everything that the file says behind its header; null where it has none. */
  readonly dataHash: string | null;
  readonly author: string | null;
  readonly writtenAt: string | null;
  /** Whether every check is right. */
  readonly isRight: boolean;
  readonly massProperties: MassProperties;
  /**
   * How likely an honest student makes a part that is wrong in just this way, given that it is wrong: the shares of the
   * mistakes that explain it, or a guess by how many sizes are off. 1 where the part is right.
   */
  readonly chance: number;
  /** Numbers that were typed with it, mm3, g or mm; `isOwn` where they belong to the own file. */
  readonly typed: readonly {
    readonly name: TypedName;
    readonly value: number;
    readonly step: number;
    readonly isOwn: boolean;
  }[];
  /** What the numbers of the own file are. */
  readonly own: Readonly<Record<TypedName, number>>;
  readonly buildLog: string;
}

export type TypedName = 'mass' | 'volume' | 'x' | 'y' | 'z';

export const LIKENESS_KINDS = ['same-file', 'same-model', 'typed-of-other'] as const;
export type LikenessKind = (typeof LIKENESS_KINDS)[number];

export interface Likeness {
  readonly kind: LikenessKind;
  readonly attemptIds: readonly [number, number];
  /** How likely two honest students are alike in this way, given that both are wrong; null where no chance is worked out. */
  readonly chance: number | null;
  /** What is alike, a sentence each, the reason first. */
  readonly words: readonly string[];
}

/** Pairs that are alike with more chance than this are not told: one in a thousand honest pairs. */
export const MOST_CHANCE = 1e-3;
/** The same model moved, turned or written again keeps its numbers to this share. */
const SAME_SHARE = 1e-7;
/** So many typed numbers that fit another file and not the own one are no slip. */
const FEWEST_TYPED = 3;
/** Equal models say the same behind their headers where they were built in the same order by the same program: a guess. */
const SAME_DATA_SHARE = 0.1;
/** An author that more students name is the machine of a room, not a person. */
const MOST_OF_AUTHOR = 2;
/** A wrong model that more students have comes from the sheet. */
const MOST_OF_MODEL = 3;
/** A list of steps with fewer words is a habit of a program. */
const SHORTEST_LOG = 120;

const near = (a: number, b: number): boolean =>
  Math.abs(a - b) <= SAME_SHARE * Math.max(Math.abs(a), Math.abs(b), 1e-12);

/** Numbers of a solid that do not depend on where and how it lies: volume, area, and two invariants of its inertia. */
function invariantsOf({ volumeMm3, areaMm2, inertiaMm5 }: MassProperties): readonly number[] {
  const entries = inertiaMm5.flat();
  return [
    volumeMm3,
    areaMm2,
    inertiaMm5[0][0] + inertiaMm5[1][1] + inertiaMm5[2][2],
    Math.sqrt(entries.reduce((sum, entry) => sum + entry * entry, 0)),
  ];
}

const agree = (a: readonly number[], b: readonly number[]): boolean =>
  a.every((value, i) => near(value, b[i] ?? Number.NaN));

/** Whether two solids are one and the same, wherever they lie. */
export const isSameModel = (a: MassProperties, b: MassProperties): boolean => agree(invariantsOf(a), invariantsOf(b));

/** A hand-in with what is compared of it, worked out once: there are as many pairs as the square of the class. */
interface Compared extends HandIn {
  readonly invariants: readonly number[];
  /** How many hand-ins have this model, itself included; 0 where it is right, which is not asked. */
  readonly sharing: number;
  readonly plainLog: string;
}

const inWords = (chance: number): string =>
  `Of two wrong parts by honest students, about one pair in ${String(Math.round(1 / chance))} would be alike so.`;

/** Evidence of one pair; null where it is as alike as honest pairs are. */
function likenessOf(a: Compared, b: Compared, all: readonly Compared[]): Likeness | null {
  const attemptIds = [a.attemptId, b.attemptId] as const;
  // A file that says when it was written is not made twice to the second.
  if (a.fileSha256 === b.fileSha256 && a.writtenAt !== null)
    return {
      kind: 'same-file',
      attemptIds,
      chance: null,
      words: [`It is one file, written at ${a.writtenAt}.`, ...alsoAlike(a, b, all)],
    };
  const isSameData = a.fileSha256 === b.fileSha256 || (a.dataHash !== null && a.dataHash === b.dataHash);
  const chance = Math.max(a.chance, b.chance) * (isSameData ? SAME_DATA_SHARE : 1);
  if (chance <= MOST_CHANCE && a.sharing <= MOST_OF_MODEL && isSameMistake(a, b)) {
    const how =
      a.fileSha256 === b.fileSha256
        ? 'It is one file'
        : isSameData
          ? 'The two files say the same behind their headers'
          : 'The two models are one to the last digit, with the same mistakes';
    return { kind: 'same-model', attemptIds, chance, words: [`${how}.`, inWords(chance), ...alsoAlike(a, b, all)] };
  }
  const ids = typedOf(a, b) ? attemptIds : typedOf(b, a) ? ([b.attemptId, a.attemptId] as const) : null;
  return ids === null
    ? null
    : {
        kind: 'typed-of-other',
        attemptIds: ids,
        chance: null,
        words: [
          'The numbers that the first typed are those of the second’s file, not of the own one.',
          ...alsoAlike(a, b, all),
        ],
      };
}

const isSameMistake = (a: Compared, b: Compared): boolean =>
  !a.isRight && !b.isRight && agree(a.invariants, b.invariants);

/** Whether what one typed belongs to the file of the other, which is wrong, and not to the own. */
function typedOf({ typed }: HandIn, { own, isRight }: HandIn): boolean {
  const foreign = typed.filter(
    ({ name, value, step, isOwn }) =>
      !isOwn && step > 0 && Math.abs(value - own[name]) <= step && Math.abs(value) > 10 * step,
  );
  // Numbers of the right part may be from an earlier or later state of the own work.
  return !isRight && foreign.length >= FEWEST_TYPED;
}

const plain = (log: string): string => log.toLowerCase().replace(/\s+/g, ' ').trim();

/** What else is alike of a pair that is alike already. By itself it proves nothing. */
function alsoAlike(a: Compared, b: Compared, all: readonly Compared[]): readonly string[] {
  const named = all.filter(({ author }) => author === a.author).length;
  const log = a.plainLog;
  const sharing = all.filter(({ plainLog }) => plainLog === log).length;
  return [
    ...(a.author !== null && a.author === b.author && named <= MOST_OF_AUTHOR
      ? [`Both files name "${a.author}" as their author, and no other file of the class does.`]
      : []),
    ...(log.length >= SHORTEST_LOG && log === b.plainLog && sharing === 2
      ? ['Their lists of steps are the same word for word, and no other list is.']
      : []),
  ];
}

/** All pairs of different students that are alike in a way that chance does not explain, the least likely first. */
export function likenesses(handIns: readonly HandIn[]): readonly Likeness[] {
  const measured = handIns.map((one) => ({ ...one, invariants: invariantsOf(one.massProperties) }));
  const all = measured.map((one): Compared => ({
    ...one,
    sharing: one.isRight ? 0 : measured.filter(({ invariants }) => agree(invariants, one.invariants)).length,
    plainLog: plain(one.buildLog),
  }));
  const found = all.flatMap((a, i) =>
    all.slice(i + 1).flatMap((b) => (a.studentId === b.studentId ? [] : (likenessOf(a, b, all) ?? []))),
  );
  return found.sort((a, b) => (a.chance ?? 0) - (b.chance ?? 0));
}

/**
 * How likely a wrong part is wrong in just this way, given that it is wrong. `priors` are the shares, of a hundred mistakes,
 * of the kinds that explain it completely; where nothing explains it, each size that is off in its own way counts as one of
 * fifty values that are easily taken for it.
 */
export function chanceOf(priors: readonly number[] | null, wrongSizes: number): number {
  if (priors === null) return wrongSizes === 0 ? 1 : (1 / 50) ** Math.min(wrongSizes, 4);
  return priors.reduce((product, prior) => product * Math.min(1, Math.max(0.01, prior / 100)), 1);
}
