import { gradeFile, prepareExercise, type Explanation } from '#core/attempt';
import type { Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import {
  applyEdits,
  buildAtlas,
  explainNumbers,
  groundOf,
  verifier,
  type Atlas,
  type AtlasEntry,
  type Hypothesis,
} from '#core/mistake';
import type { Overlayer } from '#core/overlay';
import { unwrap } from '#core/problem';
import { buildRecipe, type Recipe } from '#core/recipe';
import { rightGuises, seeded } from '#demo/corpus';
import { demoExercises } from '#demo/exercises';
import { loadKernel, loadOverlayer } from '#runtime';

import { median, ms, printTable } from './statistics.ts';

const SINGLES = 24;
const PAIRS = 6;
const DAMAGES = 6;
const SEED = 2741;

/** How far down its list a diagnosis names what is known to be there: 0 first, -1 not at all. */
type Place = number;

interface Case {
  readonly exercise: string;
  readonly kind: string;
  readonly name: string;
  readonly place: Place;
  readonly said: string;
}

const said = (hypotheses: readonly Hypothesis[]): string =>
  hypotheses.map(({ mistakes, fit }) => `${mistakes.map(({ id }) => id).join(' + ')} (${fit})`).join(' | ') ||
  'nothing';

const isStory =
  (entries: readonly AtlasEntry[]) =>
  ({ mistakes }: Hypothesis): boolean =>
    mistakes.length === entries.length &&
    entries.every((entry) => mistakes.some(({ id }) => id === entry.mistake.id || entry.same.includes(id)));

/** Mistakes that are drawn from a part, built, handed in, and looked for without knowing them. */
class Trial {
  readonly singles: Case[] = [];
  readonly meshes: Case[] = [];
  readonly pairs: Case[] = [];
  readonly invented: Case[] = [];
  readonly damages: Case[] = [];
  readonly numbers: Case[] = [];
  readonly times: number[] = [];
  atlasMs = 0;
  atlas: Atlas | null = null;
  private readonly kernel: Kernel;
  private readonly exercise: Exercise;
  private readonly overlayer: Overlayer;
  private readonly random: () => number;

  constructor(kernel: Kernel, overlayer: Overlayer, exercise: Exercise) {
    this.kernel = kernel;
    this.overlayer = overlayer;
    this.exercise = exercise;
    this.random = seeded(SEED + exercise.title.length);
  }

  run(): void {
    const { kernel, exercise } = this;
    const { reference } = unwrap(prepareExercise(kernel, exercise));
    const start = performance.now();
    const atlas = buildAtlas(kernel, exercise, reference);
    this.atlas = atlas;
    this.atlasMs = performance.now() - start;
    const ground = groundOf(kernel, exercise);
    const explain = { atlas, verify: verifier(kernel, exercise, reference, { ground }).verify };
    for (const entry of this.draw(atlas.entries, SINGLES)) {
      this.look(this.singles, { entries: [entry], reference, explain, format: 'step' });
      this.look(this.meshes, { entries: [entry], reference, explain, format: 'stl' });
    }
    for (let i = 0; i < PAIRS; i++)
      this.look(this.pairs, { entries: this.draw(atlas.entries, 2), reference, explain, format: 'step' });
    this.guises(explain);
    this.damage(reference, explain);
    this.fromNumbers(reference, atlas);
    ground.free();
  }

  private draw<T>(from: readonly T[], count: number): readonly T[] {
    const left = [...from];
    return Array.from({ length: Math.min(count, left.length) }, () =>
      left.splice(Math.floor(this.random() * left.length), 1),
    ).flat();
  }

  private fileOf(recipe: Recipe, format: 'step' | 'stl'): Uint8Array | null {
    const built = buildRecipe(this.kernel, recipe);
    if (!built.ok) return null;
    const { shape } = built.value;
    const bytes =
      format === 'step'
        ? this.kernel.writeStep(shape, recipe.unit, this.exercise.title)
        : writeStl(trianglesOf(this.kernel.displayMesh(shape, { toleranceMm: 0.05, angleRad: 0.3 })));
    shape.free();
    return bytes;
  }

  private grade(bytes: Uint8Array, format: 'step' | 'stl', reference: Reference, explain: Explanation) {
    return gradeFile(
      this.kernel,
      reference,
      { bytes, policy: this.exercise.scoring },
      {
        fileName: `part.${format}`,
        explain,
        ...(format === 'stl' ? { unit: 'mm' as const, overlayer: this.overlayer } : {}),
      },
    );
  }

  private look(
    into: Case[],
    {
      entries,
      reference,
      explain,
      format,
    }: {
      readonly entries: readonly AtlasEntry[];
      readonly reference: Reference;
      readonly explain: Explanation;
      readonly format: 'step' | 'stl';
    },
  ): void {
    const edited = applyEdits(
      this.exercise.recipe,
      entries.flatMap(({ mistake }) => mistake.edits),
    );
    const bytes = edited.ok ? this.fileOf(edited.value, format) : null;
    if (bytes === null) return;
    const graded = this.grade(bytes, format, reference, explain);
    const hypotheses = graded.ok ? (graded.value.diagnosis?.hypotheses ?? []) : [];
    into.push({
      exercise: this.exercise.title,
      kind: entries.map(({ mistake }) => mistake.kind).join(' + '),
      name: entries.map(({ mistake }) => mistake.id).join(' + '),
      place: hypotheses.findIndex(isStory(entries)),
      said: graded.ok ? said(hypotheses) : graded.problem.message,
    });
  }

  /** Right parts in every guise: nothing may be found in them. */
  private guises(explain: Explanation): void {
    const free: Exercise = {
      ...this.exercise,
      typedValues: [],
      checks: [...this.exercise.checks, { id: 'frame', kind: 'frame', label: 'Frame', weight: 0 }],
    };
    const { reference } = unwrap(prepareExercise(this.kernel, free));
    for (const { name, fileName, bytes, values } of rightGuises({ kernel: this.kernel }, free)) {
      if (values !== undefined) continue;
      const graded = gradeFile(
        this.kernel,
        reference,
        { bytes: bytes(), policy: free.scoring },
        {
          fileName,
          explain,
          overlayer: this.overlayer,
        },
      );
      const hypotheses = graded.ok ? (graded.value.diagnosis?.hypotheses ?? []) : [];
      this.invented.push({
        exercise: this.exercise.title,
        kind: 'right',
        name,
        place: hypotheses.length === 0 ? 0 : -1,
        said: graded.ok ? said(hypotheses) : graded.problem.message,
      });
    }
  }

  /** A letter with a value that no mistake of the catalogue gives. */
  private damage(reference: Reference, explain: Explanation): void {
    const letters = this.exercise.recipe.parameters.filter(({ value }) => Number.isFinite(Number(value)));
    for (let i = 0; i < DAMAGES; i++) {
      const letter = letters[i % Math.max(1, letters.length)];
      if (letter === undefined) continue;
      const value = String(Number((Number(letter.value) * (0.83 + 0.31 * this.random())).toFixed(3)));
      const recipe = {
        ...this.exercise.recipe,
        parameters: this.exercise.recipe.parameters.map((one) => (one === letter ? { ...one, value } : one)),
      };
      const bytes = this.fileOf(recipe, 'step');
      if (bytes === null) continue;
      const start = performance.now();
      const graded = this.grade(bytes, 'step', reference, explain);
      this.times.push(performance.now() - start);
      const hypotheses = graded.ok ? (graded.value.diagnosis?.hypotheses ?? []) : [];
      const claimed = hypotheses.some(({ fit }) => fit === 'complete');
      this.damages.push({
        exercise: this.exercise.title,
        kind: 'damage',
        name: `${letter.name} = ${value}`,
        place: claimed ? -1 : 0,
        said: said(hypotheses),
      });
    }
  }

  /** Volume and center of mass as a student copies them: six digits, and hundredths of a millimeter. */
  private fromNumbers(reference: Reference, atlas: Atlas): void {
    for (const entry of atlas.entries) {
      const [volume = 1, , x = 0, y = 0, z = 0] = entry.fingerprint;
      const step = 10 ** (Math.floor(Math.log10(volume)) - 5);
      const hundredths = (value: number) => ({ value: Math.round(value * 100) / 100, resolution: 0.005 });
      const { causes } = explainNumbers(reference, atlas, {
        volumeMm3: { value: Math.round(volume / step) * step, resolution: step / 2 },
        centroidMm: [hundredths(x / volume), hundredths(y / volume), hundredths(z / volume)],
      });
      this.numbers.push({
        exercise: this.exercise.title,
        kind: entry.mistake.kind,
        name: entry.mistake.id,
        place: causes.findIndex(({ id }) => id === entry.mistake.id),
        said: causes.map(({ id }) => id).join(' | '),
      });
    }
  }
}

const share = (cases: readonly Case[], within: number): string => {
  const met = cases.filter(({ place }) => place >= 0 && place < within).length;
  return cases.length === 0
    ? '-'
    : `${String(met)} of ${String(cases.length)} (${((100 * met) / cases.length).toFixed(0)} %)`;
};

/** Seeded mistakes, looked for without knowing them; the misses are listed. */
export async function benchMistakes(only?: string): Promise<void> {
  const trials: Trial[] = [];
  for (const exercise of demoExercises.filter(({ title }) => only === undefined || title.includes(only))) {
    process.stderr.write(`${exercise.title} ...\n`);
    const trial = new Trial(await loadKernel(), await loadOverlayer(), exercise);
    trial.run();
    trials.push(trial);
    printTable(
      exercise.title,
      [
        'atlas',
        'mistakes',
        'unchanged',
        'not built',
        'STEP first',
        'STEP first 3',
        'STL first',
        'STL first 3',
        'pairs',
        'none invented',
        'damage',
        'numbers first 3',
      ],
      [rowOf(trial)],
    );
  }
  const all = (pick: (trial: Trial) => readonly Case[]): readonly Case[] => trials.flatMap(pick);
  const [singles, meshes, pairs] = [
    all(({ singles: own }) => own),
    all(({ meshes: own }) => own),
    all(({ pairs: own }) => own),
  ];
  const kinds = [...new Set(singles.map(({ kind }) => kind))].sort();
  printTable(
    'Single mistakes by kind',
    ['kind', 'STEP first', 'STEP first 3', 'STL first', 'STL first 3'],
    kinds.map((kind) => {
      const [own, mesh] = [singles, meshes].map((cases) => cases.filter((one) => one.kind === kind)) as [
        Case[],
        Case[],
      ];
      return [kind, share(own, 1), share(own, 3), share(mesh, 1), share(mesh, 3)];
    }),
  );
  printTable(
    'All parts',
    ['what', 'first', 'among the first three'],
    [
      ['single mistakes, STEP', share(singles, 1), share(singles, 3)],
      ['single mistakes, STL', share(meshes, 1), share(meshes, 3)],
      ['pairs, STEP', share(pairs, 1), share(pairs, 3)],
      [
        'right parts in all guises, none invented',
        share(
          all(({ invented }) => invented),
          1,
        ),
        '',
      ],
      [
        'damage that no mistake gives, not explained',
        share(
          all(({ damages }) => damages),
          1,
        ),
        '',
      ],
      [
        'from volume and center of mass alone',
        share(
          all(({ numbers }) => numbers),
          1,
        ),
        share(
          all(({ numbers }) => numbers),
          3,
        ),
      ],
    ],
  );
  const misses = [
    ...singles,
    ...meshes,
    ...pairs,
    ...all(({ invented }) => invented),
    ...all(({ damages }) => damages),
  ].filter(({ place }) => place !== 0);
  printTable(
    'Misses',
    ['part', 'what', 'place', 'said'],
    misses.map(({ exercise, name, place, said: words }) => [exercise, name, String(place), words.slice(0, 160)]),
  );
}

function rowOf({
  atlas,
  atlasMs,
  singles,
  meshes,
  pairs,
  invented,
  damages,
  numbers,
  times,
}: Trial): readonly string[] {
  return [
    `${ms(atlasMs / 1000)} s`,
    String(atlas?.entries.length ?? 0),
    String(atlas?.unchanged.length ?? 0),
    String(atlas?.unbuilt.length ?? 0),
    share(singles, 1),
    share(singles, 3),
    share(meshes, 1),
    share(meshes, 3),
    share(pairs, 3),
    share(invented, 1),
    `${share(damages, 1)} in ${ms(median(times))} ms`,
    share(numbers, 3),
  ];
}
