/**
 * `npm run generated [-- FROM TO]`: parts that nobody tuned for, by their seeds. Of each: whether its plan can be completed,
 * whether its sheet is a sound drawing, whether the right part gets full marks in several guises, whether every single
 * alteration fails a check that says where, what is said of it, and whether the true cause of a mistake of the catalogue is
 * named first. The failures are listed.
 */
import { gradeFile, lintExercise, prepareExercise, type PreparedExercise } from '#core/attempt';
import { saysWhere } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import type { Overlayer } from '#core/overlay';
import { attempt, unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import type { MassProperties } from '#core/solid';
import { applyEdits, buildAtlas, groundOf, verifier, type Atlas, type AtlasEntry } from '#core/mistake';
import { alterations, judgeRight, oneOfMany, rightGuises, seeded, type Alteration } from '#demo/corpus';
import { generatedPart, planned, type PlannedPart } from '#demo/generator';
import { loadKernel, loadOverlayer, useBaselineCompiler } from '#runtime';

import { median, printTable } from './statistics.ts';

/** Of all guises of the corpus, those that differ most. Splitting faces is asked for by the plan itself. */
const GUISES: ReadonlySet<string> = new Set([
  'as exported',
  'upright',
  'turned by odd angles',
  'read and written again',
  'STL, fine',
  'STL, coarse',
  'STL turned by odd angles',
  '3MF',
  'OBJ',
  'letters x 1.04',
]);

interface Row {
  readonly title: string;
  readonly checks: number;
  readonly added: number;
  readonly open: readonly string[];
  readonly faults: readonly string[];
  readonly right: readonly [number, number];
  readonly caught: readonly [number, number];
  readonly planMs: number;
  readonly atlasMs: number;
  /** Mistakes drawn from the atlas: named first, among the first three, of how many. */
  readonly named: readonly [first: number, three: number, all: number];
  /** Altered parts that fail a check and are told no cause at all, of how many. */
  readonly silent: readonly [number, number];
  readonly failures: readonly string[];
}

/** Mistakes of each part that are drawn and looked for. */
const MISTAKES = 8;

class Trial {
  private readonly kernel: Kernel;
  private readonly overlayer: Overlayer;

  constructor(kernel: Kernel, overlayer: Overlayer) {
    this.kernel = kernel;
    this.overlayer = overlayer;
  }

  row(seed: number): Row {
    const bare = generatedPart(seed);
    const begun = performance.now();
    const plan = planned(this.kernel, bare);
    const planMs = performance.now() - begun;
    const exercise = exerciseOfStage(plan.exercise, 1);
    const prepared = unwrap(prepareExercise(this.kernel, exercise));
    const failures: string[] = [];
    const start = performance.now();
    const atlas = buildAtlas(this.kernel, exercise, prepared.reference);
    const atlasMs = performance.now() - start;
    const { caught, silent } = this.alteredOnes(exercise, { prepared, atlas }, failures);
    return {
      atlasMs,
      silent,
      named: this.mistakes(exercise, { prepared, atlas, seed }, failures),
      title: bare.title,
      checks: exercise.checks.length,
      added: plan.exercise.checks.length - plan.suggested,
      open: openIn(plan),
      faults: faultsOf(this.kernel, exercise, prepared),
      right: this.rightOnes(exercise, failures),
      caught,
      planMs,
      failures,
    };
  }

  private rightOnes(exercise: Exercise, failures: string[]): readonly [number, number] {
    const tools = { kernel: this.kernel, overlayer: this.overlayer };
    const guises = rightGuises(tools, exercise).filter(({ name }) => GUISES.has(name));
    const verdicts = judgeRight(tools, exercise, guises);
    failures.push(...verdicts.filter(({ ok }) => !ok).map(({ name, fault }) => `right, ${name}: ${fault}`));
    return [verdicts.filter(({ ok }) => ok).length, verdicts.length];
  }

  /** Alterations that make another part: how many fail a check that says where, and how many are told no cause. */
  private alteredOnes(
    exercise: Exercise,
    { prepared, atlas }: { readonly prepared: PreparedExercise; readonly atlas: Atlas },
    failures: string[],
  ): Pick<Row, 'caught' | 'silent'> {
    const { reference } = prepared;
    const ground = groundOf(this.kernel, exercise);
    const explain = { atlas, verify: verifier(this.kernel, exercise, reference, { ground }).verify };
    let [caught, all, silent, wrongOnes] = [0, 0, 0, 0];
    for (const alteration of [...alterations(exercise), ...oneOfMany(exercise)]) {
      const bytes = this.fileOf(alteration, exercise, reference.solid.massProperties);
      if (bytes === null) continue;
      all++;
      const graded = gradeFile(this.kernel, reference, { bytes, policy: exercise.scoring }, { explain });
      const wrong = graded.ok ? graded.value.report.lines.filter(({ verdict }) => verdict !== 'right') : [];
      if (wrong.some((line) => line.weight > 0 && saysWhere(line))) caught++;
      else
        failures.push(
          `altered, ${alteration.name}: ${graded.ok ? `only ${wrong.map(({ checkId }) => checkId).join(', ') || 'nothing'} failed` : graded.problem.message}`,
        );
      if (wrong.length > 0) wrongOnes++;
      if (wrong.length > 0 && graded.ok && graded.value.report.causes.length === 0) {
        silent++;
        failures.push(`no cause, ${alteration.name}: ${wrong.map(({ checkId }) => checkId).join(', ')}`);
      }
    }
    ground.free();
    return { caught: [caught, all], silent: [silent, wrongOnes] };
  }

  /** Mistakes of the catalogue, looked for without knowing them. */
  private mistakes(
    exercise: Exercise,
    { prepared, atlas, seed }: { readonly prepared: PreparedExercise; readonly atlas: Atlas; readonly seed: number },
    failures: string[],
  ): Row['named'] {
    const random = seeded(seed);
    const left = [...atlas.entries];
    const drawn = Array.from({ length: Math.min(MISTAKES, left.length) }, () =>
      left.splice(Math.floor(random() * left.length), 1),
    ).flat();
    let [first, three, all] = [0, 0, 0];
    for (const entry of drawn) {
      const place = this.placeOf(entry, exercise, { prepared, atlas });
      if (place === null) continue;
      all++;
      if (place === 0) first++;
      else
        failures.push(
          `mistake ${entry.mistake.id}: ${place < 0 ? 'not named' : `named as number ${String(place + 1)}`}`,
        );
      if (place >= 0 && place < 3) three++;
    }
    return [first, three, all];
  }

  /** How far down a mistake is named, from 0; -1 where it is not, null where it gives no part. */
  private placeOf(
    { mistake, same }: AtlasEntry,
    exercise: Exercise,
    { prepared, atlas }: { readonly prepared: PreparedExercise; readonly atlas: Atlas },
  ): number | null {
    const recipe = applyEdits(exercise.recipe, mistake.edits);
    const bytes = recipe.ok
      ? this.fileOf({ name: mistake.id, recipe: recipe.value }, exercise, prepared.reference.solid.massProperties)
      : null;
    if (bytes === null) return null;
    const graded = gradeFile(
      this.kernel,
      prepared.reference,
      { bytes, policy: exercise.scoring },
      { explain: { atlas, verify: null } },
    );
    const hypotheses = graded.ok ? (graded.value.diagnosis?.hypotheses ?? []) : [];
    return hypotheses.findIndex(
      ({ mistakes: [one, ...more] }) =>
        more.length === 0 && one !== undefined && [mistake.id, ...same].includes(one.id),
    );
  }

  /** The altered part as STEP; null where it cannot be built, or is the same. */
  private fileOf({ recipe }: Alteration, { title }: Exercise, right: MassProperties): Uint8Array | null {
    const built = buildRecipe(this.kernel, recipe);
    if (!built.ok) return null;
    const { shape } = built.value;
    const own = this.kernel.massProperties(shape);
    const bytes = isSame(own, right) ? null : this.kernel.writeStep(shape, recipe.unit, title);
    shape.free();
    return bytes;
  }
}

const isSame = (a: MassProperties, b: MassProperties): boolean =>
  Math.abs(a.volumeMm3 / b.volumeMm3 - 1) < 1e-6 &&
  Math.abs(a.areaMm2 / b.areaMm2 - 1) < 1e-6 &&
  a.centroidMm.every((at, i) => Math.abs(at - (b.centroidMm[i] ?? 0)) < 1e-3);

const openIn = ({ left }: PlannedPart): readonly string[] =>
  [...left.undetermined, ...left.unchecked].map(({ what }) => what);

function faultsOf(kernel: Kernel, exercise: Exercise, { failing, sheet }: PreparedExercise): readonly string[] {
  const drawn = unwrap(lintExercise(kernel, exercise)).map(({ rule, words }) => `${rule}: ${words}`);
  return [...drawn, ...sheet.warnings, ...failing.map((id) => `the part itself fails ${id}`)];
}

const share = (part: number, all: number): string =>
  `${String(part)} of ${String(all)}${all === 0 ? '' : ` (${((100 * part) / all).toFixed(1)} %)`}`;

const [from = 1, to = 60] = process.argv.slice(2).map(Number);
useBaselineCompiler();
const overlayer = await loadOverlayer();
const rows: Row[] = [];
for (let seed = from; seed <= to; seed++) {
  process.stderr.write(`${generatedPart(seed).title} ...\n`);
  // A kernel of its own for each part: hundreds of models leave their mark on its memory, which never shrinks.
  const trial = new Trial(await loadKernel(), overlayer);
  const row = attempt(() => trial.row(seed));
  if (row.ok) rows.push(row.value);
  else process.stderr.write(`  ${row.problem.message}\n`);
}

printTable(
  `Generated parts, seeds ${String(from)} to ${String(to)}`,
  [
    'part',
    'checks',
    'added',
    'open',
    'faults of the sheet',
    'right ones',
    'altered ones caught',
    'named first',
    'plan, s',
    'atlas, s',
  ],
  rows.map(({ title, checks, added, open, faults, right, caught, named, planMs, atlasMs }) => [
    title,
    String(checks),
    String(added),
    String(open.length),
    String(faults.length),
    share(...right),
    share(...caught),
    share(named[0], named[2]),
    (planMs / 1000).toFixed(1),
    (atlasMs / 1000).toFixed(1),
  ]),
);
const total = (pick: (row: Row) => readonly [number, number]): string =>
  share(
    rows.reduce((sum, row) => sum + pick(row)[0], 0),
    rows.reduce((sum, row) => sum + pick(row)[1], 0),
  );
printTable(
  'All',
  ['what', 'share', 'bar'],
  [
    ['parts that can be built and planned', share(rows.length, to - from + 1), '100 %'],
    ['plans that leave nothing open', share(rows.filter(({ open }) => open.length === 0).length, rows.length), '99 %'],
    ['sheets without a fault', share(rows.filter(({ faults }) => faults.length === 0).length, rows.length), '100 %'],
    ['right parts with full marks and no cause', total(({ right }) => right), '99.5 %'],
    ['alterations that fail a check that says where', total(({ caught }) => caught), '99 %'],
    ['of these, told no cause', total(({ silent }) => silent), ''],
    ['mistakes of the catalogue named first', total(({ named }) => [named[0], named[2]]), '92 %'],
    ['among the first three', total(({ named }) => [named[1], named[2]]), '97 %'],
    ['atlas, median', `${(median(rows.map(({ atlasMs }) => atlasMs)) / 1000).toFixed(1)} s`, '8 s'],
    ['plan, median', `${(median(rows.map(({ planMs }) => planMs)) / 1000).toFixed(1)} s`, ''],
  ],
);
printTable(
  'What is left',
  ['part', 'what'],
  rows.flatMap(({ title, open, faults, failures }) =>
    [...open.map((what) => `open: ${what}`), ...faults, ...failures].map((what) => [title, what.slice(0, 220)]),
  ),
);
