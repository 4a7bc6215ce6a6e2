import { prepareExercise } from '#core/attempt';
import { chanceOf, likenesses, MOST_CHANCE, type HandIn } from '#core/likeness';
import { buildAtlas, type AtlasEntry } from '#core/mistake';
import { exerciseOfStage } from '#core/exercise';
import { unwrap } from '#core/problem';
import type { MassProperties } from '#core/solid';
import { seeded } from '#demo/corpus';
import { generatedPart, planned } from '#demo/generator';
import { loadKernel } from '#runtime';

import { ms, printTable } from './statistics.ts';

const PARTS = [301, 302, 303, 304];
const CLASSES = 400;
const STUDENTS = 30;
/** Shares of students with no mistake, one, two and three. */
const MISTAKES = [0.45, 0.35, 0.14, 0.06] as const;

/** A solid of its own for each set of mistakes: the same set is the same part. */
function solidsBySet(): (ids: readonly string[]) => MassProperties {
  const numbers = new Map<string, number>();
  return (ids) => {
    const key = [...ids].sort().join(' + ');
    const own = numbers.get(key) ?? numbers.size + 1;
    numbers.set(key, own);
    const about = 1000 + own;
    return {
      volumeMm3: 5000 + own,
      areaMm2: 2000 + own,
      centroidMm: [0, 0, 0],
      inertiaMm5: [
        [about, 0, 0],
        [0, about, 0],
        [0, 0, about],
      ],
    };
  };
}

/** Draws by the shares of the mistakes, each once. */
function drawn(entries: readonly AtlasEntry[], count: number, random: () => number): readonly AtlasEntry[] {
  const left = [...entries];
  return Array.from({ length: count }, () => {
    let at = random() * left.reduce((sum, { mistake }) => sum + mistake.prior, 0);
    const place = left.findIndex(({ mistake }) => (at -= mistake.prior) <= 0);
    return left.splice(Math.max(0, place), 1);
  }).flat();
}

/** Honest classes, and classes in which one wrong part was handed in twice: how many pairs are told of. */
export async function benchLikeness(): Promise<void> {
  const rows: string[][] = [];
  for (const seed of PARTS) {
    const kernel = await loadKernel();
    const exercise = exerciseOfStage(planned(kernel, generatedPart(seed)).exercise, 1);
    const { reference } = unwrap(prepareExercise(kernel, exercise));
    const { entries } = buildAtlas(kernel, exercise, reference);
    const random = seeded(seed);
    const solidOf = solidsBySet();
    let attempt = 0;
    const student = (): HandIn => {
      const dice = random();
      let [count, upTo] = [0, MISTAKES[0] as number];
      while (count < 3 && dice > upTo) upTo += MISTAKES[++count] ?? 1;
      const mistakes = drawn(entries, count, random);
      attempt++;
      return {
        attemptId: attempt,
        studentId: attempt,
        fileSha256: String(attempt),
        dataHash: null,
        author: null,
        writtenAt: null,
        isRight: count === 0,
        massProperties: solidOf(mistakes.map(({ mistake }) => mistake.id)),
        chance: chanceOf(count === 0 ? [] : mistakes.map(({ mistake }) => mistake.prior), 0),
        typed: [],
        own: { mass: 0, volume: 0, x: 0, y: 0, z: 0 },
        buildLog: '',
      };
    };
    let [falseAlarms, pairs, found, telling, copies, took] = [0, 0, 0, 0, 0, 0];
    for (let i = 0; i < CLASSES; i++) {
      const honest = Array.from({ length: STUDENTS }, student);
      const start = performance.now();
      falseAlarms += likenesses(honest).length;
      took += performance.now() - start;
      pairs += (STUDENTS * (STUDENTS - 1)) / 2;
      const victim = honest.find(({ isRight }) => !isRight);
      if (victim === undefined) continue;
      copies++;
      if (victim.chance <= MOST_CHANCE) telling++;
      attempt++;
      const copier: HandIn = { ...victim, attemptId: attempt, studentId: attempt, fileSha256: String(attempt) };
      if (likenesses([...honest, copier]).some(({ attemptIds }) => attemptIds.includes(copier.attemptId))) found++;
    }
    rows.push([
      exercise.title,
      `${String(falseAlarms)} of ${String(pairs)}`,
      ((1000 * falseAlarms) / pairs).toFixed(3),
      `${String(found)} of ${String(copies)}`,
      `${String(found)} of ${String(telling)}`,
      ms(took / CLASSES),
    ]);
  }
  printTable(
    `${String(CLASSES)} honest classes of ${String(STUDENTS)}, and one wrong part handed in by somebody else as well`,
    ['part', 'honest pairs told of', 'of 1,000 (bar 1)', 'copies found', 'of those that are unlikely', 'a class, ms'],
    rows,
  );
}
