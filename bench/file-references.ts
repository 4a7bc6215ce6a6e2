import { gradeFile, prepareExercise } from '#core/attempt';
import { blankExercise, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { applyEdits, buildAtlas, groundOf, mistakesOf, verifier, type Mistake } from '#core/mistake';
import type { MistakeKind } from '#core/cause';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, type Recipe } from '#core/recipe';
import { seeded } from '#demo/corpus';
import { demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { median, ms, printTable } from './statistics.ts';

const OF_EACH_KIND = 2;
const SEED = 5113;
/** Of the catalogue, those that only letters can have: a file has none. */
const OF_LETTERS: readonly MistakeKind[] = ['letters-swapped', 'wrong-variant'];

interface Case {
  readonly part: string;
  readonly kind: MistakeKind;
  readonly name: string;
  readonly fit: 'complete' | 'most' | 'none';
  /** Whether the first hypothesis names the very kind of mistake that was made. */
  readonly named: boolean;
  readonly said: string;
}

/** A demo exercise as if its reference came as a STEP file: nothing of the recipe but the file. */
function asFile(kernel: Kernel, exercise: Exercise): { readonly document: Exercise; readonly model: Uint8Array } {
  const { recipe, number, title, material, decimals } = exercise;
  const model = fileOf(kernel, recipe);
  if (model === null) throw new Error(`${title} cannot be built`);
  const blank: Exercise = {
    ...blankExercise(number, title, recipe.unit),
    material,
    decimals,
    model: { sha256: '0'.repeat(64), fileName: 'part.step', unit: null },
  };
  const checks = withPart(kernel, blank, { model }, ({ solid, surfaces, scope }) =>
    suggestPlan({ exercise: blank, solid, surfaces, scope }),
  );
  return { document: { ...blank, checks }, model };
}

function fileOf(kernel: Kernel, recipe: Recipe): Uint8Array | null {
  const built = buildRecipe(kernel, recipe);
  if (!built.ok) return null;
  const bytes = kernel.writeStep(built.value.shape, recipe.unit, 'Part');
  built.value.shape.free();
  return bytes;
}

/** Some mistakes of each kind in the recipe that the file came from. */
function drawn(exercise: Exercise): readonly Mistake[] {
  const random = seeded(SEED + exercise.title.length);
  const all = mistakesOf(exercise).filter(({ kind }) => !OF_LETTERS.includes(kind));
  return [...new Set(all.map(({ kind }) => kind))].flatMap((kind) => {
    const left = all.filter((mistake) => mistake.kind === kind);
    return Array.from({ length: Math.min(OF_EACH_KIND, left.length) }, () =>
      left.splice(Math.floor(random() * left.length), 1),
    ).flat();
  });
}

/**
 * References that are read from files: how much of each demo part is recognized, how many mistakes it gets, and what
 * diagnosis says of parts with mistakes that were made in the recipe, which it never sees. `title` picks some parts.
 */
export async function benchFileReferences(title?: string): Promise<void> {
  const cases: Case[] = [];
  const times: number[] = [];
  const rows: (readonly string[])[] = [];
  for (const exercise of demoExercises.filter((one) => title === undefined || one.title.includes(title))) {
    // Its memory never shrinks: each part gets one of its own.
    const kernel = await loadKernel();
    const { document, model } = asFile(kernel, exercise);
    const begun = performance.now();
    const ground = groundOf(kernel, document, model);
    const groundMs = performance.now() - begun;
    const { reference } = unwrap(prepareExercise(kernel, document, { model }));
    const atlasBegun = performance.now();
    const atlas = buildAtlas(kernel, document, reference, { ground });
    const atlasMs = performance.now() - atlasBegun;
    const { verify } = verifier(kernel, document, reference, { ground });
    const graded = (bytes: Uint8Array) =>
      unwrap(
        gradeFile(
          kernel,
          reference,
          { bytes, policy: document.scoring },
          {
            fileName: 'part.step',
            explain: { atlas, verify },
          },
        ),
      );
    const invented = graded(model).diagnosis?.hypotheses.length ?? 0;
    for (const mistake of drawn(exercise)) {
      const edited = applyEdits(exercise.recipe, mistake.edits);
      const bytes = edited.ok ? fileOf(kernel, edited.value) : null;
      if (bytes === null) continue;
      const start = performance.now();
      const { report, diagnosis } = graded(bytes);
      times.push(performance.now() - start);
      // Without a wrong line there is nothing to explain: the mistake changes nothing in this part.
      if (report.lines.every(({ verdict }) => verdict === 'right')) continue;
      const [best] = diagnosis?.hypotheses ?? [];
      cases.push({
        part: exercise.title,
        kind: mistake.kind,
        name: mistake.id,
        fit: best?.fit ?? 'none',
        named: best?.mistakes.some(({ kind }) => kind === mistake.kind) === true,
        said: best?.mistakes.map(({ id }) => id).join(' + ') ?? 'nothing',
      });
    }
    const own = cases.filter(({ part }) => part === exercise.title);
    const row = [
      exercise.title,
      String(ground.exercise.recipe.steps.length),
      String(ground.sizes.length),
      `${ms(groundMs)} ms`,
      String(atlas.entries.length),
      `${ms(atlasMs / 1000)} s`,
      shareOf(own, ({ fit }) => fit === 'complete'),
      shareOf(own, ({ named }) => named),
      String(invented),
    ];
    ground.free();
    rows.push(row);
    process.stderr.write(`${row.join('  ')}\n`);
  }
  printTable(
    'References read from a file',
    [
      'part',
      'steps',
      'sizes',
      'taken apart',
      'mistakes',
      'atlas',
      'explained completely',
      'kind named first',
      'invented',
    ],
    rows,
  );
  const kinds = [...new Set(cases.map(({ kind }) => kind))].sort();
  printTable(
    'By kind of mistake',
    ['kind', 'explained completely', 'mostly', 'kind named first'],
    [...kinds, null].map((kind) => {
      const own = cases.filter((one) => kind === null || one.kind === kind);
      return [
        kind ?? 'all',
        shareOf(own, ({ fit }) => fit === 'complete'),
        shareOf(own, ({ fit }) => fit === 'most'),
        shareOf(own, ({ named }) => named),
      ];
    }),
  );
  printTable(
    'Not explained',
    ['part', 'what', 'fit', 'said'],
    cases
      .filter(({ fit, named }) => fit !== 'complete' || !named)
      .map(({ part, name, fit, said }) => [part, name, fit, said.slice(0, 110)]),
  );
  process.stdout.write(`\nGrading with diagnosis: median ${ms(median(times))} ms\n`);
}

const shareOf = (cases: readonly Case[], is: (one: Case) => boolean): string =>
  `${String(cases.filter(is).length)} / ${String(cases.length)}`;
