/** The command line: the same core as the server, for one file at a time. */
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';

import { Command, Option } from 'commander';
import * as v from 'valibot';

import { gradeFile, lintExercise, prepareExercise } from '#core/attempt';
import { readBuildLog } from '#core/buildlog';
import { analyzeSheet } from '#core/chain';
import { prepareReference } from '#core/check';
import { completedPlan, DeterminacyStudy, openSizesOf } from '#core/determinacy';
import {
  blankExercise,
  DEFAULT_SHEET,
  describeIssues,
  exerciseOfStage,
  parseExercise,
  stageCount,
  type Exercise,
} from '#core/exercise';
import { TypedInputSchema } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { trianglesOf, write3mf, writeStl } from '#core/mesh';
import { coverageOf, explainNumbers, groundOf, verifier, type Numbers, type ReadNumber } from '#core/mistake';
import { formatNames, formatOf, formatOfName, readModel, openPart, withPart, writtenExtensions } from '#core/model';
import { suggestPlan } from '#core/plan';
import { ProblemError, unwrap } from '#core/problem';
import { LENGTH_UNITS, parseTyped, type LengthUnit, type QuantityKind } from '#core/quantity';
import { migrateRecipe, buildRecipe, RecipeSchema, type Recipe } from '#core/recipe';
import { renderDxf, renderSvg, suggestViews } from '#core/sheet';
import { renderPdf } from '#print';
import { loadKernel, loadOverlayer, useBaselineCompiler } from '#runtime';

import { atlasFor } from './atlas.ts';
import { coverageJson, determinacyJson, explainJson, gradeJson, inspectJson, type Determined } from './json.ts';
import { coverageText, determinacyText, explainText, gradeText, inspectText } from './text.ts';

const print = (text: string): void => {
  process.stdout.write(`${text}\n`);
};

async function bytesOf(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch (error) {
    const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
    throw new ProblemError('no-file', missing ? `There is no file "${file}".` : `The file "${file}" cannot be read.`);
  }
}

async function jsonOf(file: string, what: string): Promise<unknown> {
  try {
    return JSON.parse(new TextDecoder().decode(await bytesOf(file))) as unknown;
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw new ProblemError('not-json', `"${file}" is not JSON, so it holds no ${what}.`);
  }
}

async function documentOf<S extends v.GenericSchema>(
  file: string,
  schema: S,
  what: 'exercise' | 'recipe' | 'values',
): Promise<v.InferOutput<S>> {
  const parsed = v.safeParse(schema, await jsonOf(file, what));
  if (!parsed.success)
    throw new ProblemError(`bad-${what}`, `"${file}" is not a valid ${what}: ${describeIssues(parsed.issues)}.`);
  return parsed.output;
}

/** "A=50" as a parameter value. */
function collectValue(text: string, previous: Record<string, string>): Record<string, string> {
  const [name = '', value = ''] = text.split(/=(.*)/s);
  if (name === '' || value === '') throw new ProblemError('bad-value', `"--set ${text}" is not of the form A=50.`);
  return { ...previous, [name.trim()]: value.trim() };
}

interface Options {
  readonly json?: boolean;
  readonly set?: Record<string, string>;
  readonly values?: string;
  readonly stage?: string;
  readonly unit?: LengthUnit;
  readonly out?: string;
  readonly explain?: boolean;
  readonly study?: boolean;
  readonly steps?: string;
  readonly volume?: string;
  readonly mass?: string;
  readonly centroid?: string;
}

async function inspect(file: string, options: Options): Promise<void> {
  const bytes = await bytesOf(file);
  const solid = unwrap(
    readModel(await loadKernel(), bytes, {
      fileName: path.basename(file),
      unit: options.unit,
      overlayer: await loadOverlayer(),
    }),
  );
  print(options.json ? JSON.stringify(inspectJson(solid)) : inspectText(path.basename(file), solid));
}

/** The stage that is asked for; the first where none is. Refuses with `bad-input` a stage that the exercise does not have. */
function stageOf(exercise: Exercise, { stage = '1' }: Options): number {
  const [wanted, count] = [Number(stage), stageCount(exercise)];
  if (!Number.isInteger(wanted) || wanted < 1 || wanted > count)
    throw new ProblemError(
      'bad-input',
      `There is no stage "${stage}": the exercise has ${count === 1 ? 'one, 1' : `${String(count)}, from 1 on`}.`,
    );
  return wanted;
}

/** An exercise document with its reference part. */
async function opened(exerciseFile: string, options: Options) {
  const exercise = unwrap(parseExercise(await jsonOf(exerciseFile, 'exercise')));
  const kernel = await loadKernel();
  const { model: beside } = exercise;
  const model = beside && (await bytesOf(path.join(path.dirname(exerciseFile), beside.fileName)));
  const part = { values: options.set, stage: stageOf(exercise, options) };
  const { reference } = unwrap(prepareExercise(kernel, exercise, { ...part, model }));
  return { exercise, kernel, reference, partOn: () => ({ ...part, ground: groundOf(kernel, exercise, model) }) };
}

async function grade(exerciseFile: string, file: string, options: Options): Promise<void> {
  const typed =
    options.values === undefined ? [] : await documentOf(options.values, v.array(TypedInputSchema), 'values');
  const bytes = await bytesOf(file);
  const log =
    options.steps === undefined ? null : unwrap(readBuildLog(new TextDecoder().decode(await bytesOf(options.steps))));
  const { exercise, kernel, reference, partOn } = await opened(exerciseFile, options);
  const part = options.explain ? partOn() : null;
  const atlas = part && (await atlasFor(kernel, exercise, reference, part));
  const { report } = unwrap(
    gradeFile(
      kernel,
      reference,
      { bytes, typed, policy: exercise.scoring },
      {
        fileName: path.basename(file),
        unit: options.unit,
        overlayer: await loadOverlayer(),
        circumstances: { log },
        replay: { exercise, values: options.set, stage: stageOf(exercise, options) },
        explain: part && atlas ? { atlas, verify: verifier(kernel, exercise, reference, part).verify } : undefined,
      },
    ),
  );
  print(options.json ? JSON.stringify(gradeJson(report, log?.unread)) : gradeText(report, log?.unread));
}

/** A number of the command line with its unit, mm, g or mm3 where none is written. */
function readNumber(text: string, kind: QuantityKind, unit: string, what: string): ReadNumber {
  const parsed = parseTyped(text, kind, unit);
  if (!parsed.ok) throw new ProblemError(parsed.problem.code, `${what}: ${parsed.problem.message}`);
  if (kind !== 'length' && parsed.value.value <= 0)
    throw new ProblemError('not-positive', `${what}: "${text}" is not above 0, as that of every solid is.`);
  return parsed.value;
}

async function explain(exerciseFile: string, options: Options): Promise<void> {
  const { volume, mass, centroid } = options;
  if (volume === undefined && mass === undefined && centroid === undefined)
    throw new ProblemError('no-numbers', 'Give what was read off the model: --volume, --mass, --centroid X,Y,Z.');
  const places = centroid?.split(/[,;]/) ?? [];
  if (centroid !== undefined && places.length !== 3)
    throw new ProblemError('bad-centroid', `"--centroid ${centroid}" is not of the form 12.5,0,-3.2.`);
  const numbers: Numbers = {
    volumeMm3: volume === undefined ? undefined : readNumber(volume, 'volume', 'mm³', 'Volume'),
    massG: mass === undefined ? undefined : readNumber(mass, 'mass', 'g', 'Mass'),
    centroidMm:
      centroid === undefined
        ? undefined
        : ([0, 1, 2].map((i) =>
            readNumber(places[i] ?? '', 'length', 'mm', 'Center of mass'),
          ) as unknown as Numbers['centroidMm']),
  };
  const { exercise, kernel, reference, partOn } = await opened(exerciseFile, options);
  const atlas = await atlasFor(kernel, exercise, reference, partOn());
  const answer = explainNumbers(reference, atlas, numbers);
  print(options.json ? JSON.stringify(explainJson(answer)) : explainText(answer));
}

/** What an uploaded drawing says is not read. */
const NOT_READ = { undetermined: null, redundant: null } as const;

async function coverage(exerciseFile: string, options: Options): Promise<void> {
  const { exercise, kernel, reference, partOn } = await opened(exerciseFile, options);
  const atlas = await atlasFor(kernel, exercise, reference, partOn());
  const covered = coverageOf(exercise, atlas);
  const open = openSizesIn(kernel, exerciseOfStage(exercise, stageOf(exercise, options)), options.set);
  const isDrawn = exercise.sheet?.drawing === undefined;
  print(
    options.json
      ? JSON.stringify({ ...coverageJson(covered), ...determinacyJson(open), ...(isDrawn ? {} : NOT_READ) })
      : [coverageText(covered), ...determinacyText(open, ['unchecked'])].join('\n'),
  );
}

/** What sheet and plan leave open, by varying every number of the recipe; null for a part from a file, which has none. */
function openSizesIn(
  kernel: Kernel,
  exercise: Exercise,
  values: Readonly<Record<string, string>> = {},
): Determined | null {
  if (exercise.model !== undefined) return null;
  const basis = openPart(kernel, exercise, { values });
  const reference = unwrap(prepareReference(exercise, basis.solid, basis.surfaces, basis.scope));
  const study = new DeterminacyStudy(kernel, basis, values);
  try {
    const open = openSizesOf(study, basis);
    return {
      ...open,
      redundant: analyzeSheet(exercise, reference).filter(
        ({ kind, checkIds: [checkId = ''] }) => kind === 'repeated' && !open.needed.includes(checkId),
      ),
    };
  } finally {
    study.free();
  }
}

/** Triangles of files that are written: chords within 0.02 mm of the surface, and at most 6 degrees. */
const PRINT_FINENESS = { toleranceMm: 0.02, angleRad: 0.1 } as const;

/** A recipe, or the recipe of an exercise, of any version. */
async function recipeOf(file: string): Promise<Recipe> {
  const json = await jsonOf(file, 'recipe');
  if (isExercise(json)) return unwrap(parseExercise(json)).recipe;
  const parsed = v.safeParse(RecipeSchema, migrateRecipe(json));
  if (!parsed.success)
    throw new ProblemError('bad-recipe', `"${file}" is not a valid recipe: ${describeIssues(parsed.issues)}.`);
  return parsed.output;
}

async function build(recipeFile: string, options: Options): Promise<void> {
  const recipe = await recipeOf(recipeFile);
  const out = options.out ?? '';
  const format = formatOfName(out);
  if (format === null || !formatOf(format).isWritten)
    throw new ProblemError('bad-output', `Name a file to write that ends in ${writtenExtensions()}: --out part.step`);
  const kernel = await loadKernel();
  const { shape } = unwrap(buildRecipe(kernel, recipe, options.set));
  const triangles = () => trianglesOf(kernel.displayMesh(shape, PRINT_FINENESS));
  const bytes =
    format === 'stl'
      ? writeStl(triangles())
      : format === '3mf'
        ? write3mf([triangles()], recipe.name)
        : kernel.writeStep(shape, recipe.unit, recipe.name);
  await writeFile(out, bytes);
  shape.free();
  print(options.json ? JSON.stringify({ out }) : `Written: ${out}`);
}

/** Writes the sheet of an exercise as it is made from the part, or of a bare recipe, which then has the dimensions that Zorvet suggests. */
async function sheet(file: string, options: Options): Promise<void> {
  const out = options.out ?? '';
  const format = /\.(svg|pdf|dxf)$/i.exec(out)?.[1]?.toLowerCase();
  if (format === undefined)
    throw new ProblemError('bad-output', 'Name a file to write that ends in .svg, .pdf or .dxf: --out sheet.pdf');
  const json = await jsonOf(file, 'exercise');
  const kernel = await loadKernel();
  const values = options.set ?? {};
  const exercise = isExercise(json)
    ? unwrap(parseExercise(json))
    : withSuggestedPlan(kernel, await recipeOf(file), values);
  const { model: beside } = exercise;
  const model = beside && (await bytesOf(path.join(path.dirname(file), beside.fileName)));
  const stage = stageOf(exercise, options);
  const { drawing: _, ...settings } = exercise.sheet ?? DEFAULT_SHEET;
  const { sheet: drawing } = unwrap(
    prepareExercise(kernel, { ...exercise, sheet: settings }, { values, stage, model }),
  );
  const bytes =
    format === 'pdf'
      ? await renderPdf([{ sheet: drawing, fields: {} }])
      : new TextEncoder().encode(format === 'svg' ? renderSvg(drawing) : renderDxf(drawing));
  await writeFile(out, bytes);
  const pages = drawing.pages.length;
  const { scale, warnings } = drawing;
  if (!options.json && !options.study) {
    print([`Written: ${out}`, ...warnings].join('\n'));
    return;
  }
  const faults = unwrap(lintExercise(kernel, { ...exercise, sheet: settings }, { values, stage, model }));
  const open = openSizesIn(kernel, exerciseOfStage(exercise, stage), values);
  print(
    options.json
      ? JSON.stringify({ out, pages, scale, warnings, ...determinacyJson(open), lint: faults })
      : [
          `Written: ${out}`,
          ...warnings,
          ...faults.map(({ words }) => words),
          ...determinacyText(open, ['undetermined', 'redundant']),
        ].join('\n'),
  );
}

const isExercise = (json: unknown): boolean =>
  typeof json === 'object' && json !== null && 'format' in json && json.format === 'zorvet-exercise';

/** A bare recipe with the dimensions that its part needs: those that are usual, and what these leave open. */
function withSuggestedPlan(kernel: Kernel, recipe: Recipe, values: Record<string, string>): Exercise {
  const blank = { ...blankExercise('1', recipe.name, recipe.unit), recipe };
  const basis = openPart(kernel, blank, { values });
  const study = new DeterminacyStudy(kernel, basis, values);
  try {
    const checks = suggestPlan(basis, study.withOtherLetters(blank));
    const plan = completedPlan(study, { ...basis, exercise: { ...blank, checks } });
    const exercise = { ...blank, checks: plan.checks };
    const views = withPart(kernel, exercise, { values }, (part) => {
      const { solid, surfaces, scope } = part;
      return suggestViews({ ...part, exercise, reference: unwrap(prepareReference(exercise, solid, surfaces, scope)) });
    });
    return { ...exercise, sheet: { ...DEFAULT_SHEET, views } };
  } finally {
    study.free();
  }
}

/** Runs a command; a refusal goes to standard output as JSON, or to standard error in words, with exit code 2. */
async function guarded(options: Options, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    const problem =
      error instanceof ProblemError
        ? error.problem
        : {
            code: 'kernel-crash',
            message: `The model could not be measured (${error instanceof Error ? error.message : 'unknown fault'}).`,
          };
    if (options.json) print(JSON.stringify({ error: problem }));
    else process.stderr.write(`${problem.message}\n`);
    process.exitCode = 2;
  }
}

const unitOption = (): Option =>
  new Option('--unit <unit>', 'unit of a file that states none (STL, OBJ)').choices(Object.keys(LENGTH_UNITS));

useBaselineCompiler();
const program = new Command('zorvet')
  .description('Measures solid models and grades them against an exercise.')
  .exitOverride((error) => {
    process.exit(error.exitCode === 0 ? 0 : 2);
  });

program
  .command('inspect')
  .description('what a model is: unit, bodies, mass properties, features, warnings')
  .argument('<file>', `${formatNames()} file`)
  .addOption(unitOption())
  .option('--json', 'one JSON object on standard output')
  .action((file: string, options: Options) => guarded(options, () => inspect(file, options)));

const setOption = ['--set <name=value>', 'value of a parameter, may be repeated'] as const;
const collect = (text: string, previous: Record<string, string> | undefined): Record<string, string> =>
  collectValue(text, previous ?? {});

program
  .command('grade')
  .description('grades a file against an exercise')
  .argument('<exercise>', 'exercise as JSON')
  .argument('<file>', `${formatNames()} file`)
  .addOption(unitOption())
  .option(...setOption, collect)
  .option('--stage <number>', 'stage of the exercise, from 1')
  .option('--explain', 'look for causes among all mistakes of the part, which takes up to a minute the first time')
  .option('--steps <file>', 'how the part was built: one step a line, CSV, JSON or a recipe')
  .option('--values <file>', 'typed numbers as JSON: [{"name":"mass","text":"412.6","unit":"g"}]')
  .option('--json', 'one JSON object on standard output')
  .action((exercise: string, file: string, options: Options) => guarded(options, () => grade(exercise, file, options)));

program
  .command('build')
  .description('builds a recipe, or the recipe of an exercise, and writes it as STEP, STL or 3MF')
  .argument('<recipe>', 'recipe or exercise as JSON')
  .option(...setOption, collect)
  .requiredOption('--out <file>', `file to write: ${writtenExtensions()}`)
  .option('--json', 'one JSON object on standard output')
  .action((recipe: string, options: Options) => guarded(options, () => build(recipe, options)));

program
  .command('sheet')
  .description('draws the sheet of an exercise, or of a recipe, and writes it as SVG, PDF or DXF')
  .argument('<exercise>', 'exercise or recipe as JSON')
  .option(...setOption, collect)
  .option('--stage <number>', 'stage of the exercise, from 1')
  .requiredOption('--out <file>', 'file to write: .svg, .pdf or .dxf')
  .option('--study', 'vary every size of the part, and say what the sheet leaves open; takes up to a minute')
  .option('--json', 'one JSON object on standard output')
  .action((file: string, options: Options) => guarded(options, () => sheet(file, options)));

program
  .command('explain')
  .description('says what may have gone wrong, from numbers alone')
  .argument('<exercise>', 'exercise as JSON')
  .option('--volume <number>', 'in mm³ where no unit is written')
  .option('--mass <number>', 'in g where no unit is written')
  .option('--centroid <x,y,z>', 'in mm where no unit is written')
  .option(...setOption, collect)
  .option('--stage <number>', 'stage of the exercise, from 1')
  .option('--json', 'one JSON object on standard output')
  .action((exercise: string, options: Options) => guarded(options, () => explain(exercise, options)));

program
  .command('coverage')
  .description('tests the check plan of an exercise with every mistake of its part')
  .argument('<exercise>', 'exercise as JSON')
  .option(...setOption, collect)
  .option('--stage <number>', 'stage of the exercise, from 1')
  .option('--json', 'one JSON object on standard output')
  .action((exercise: string, options: Options) => guarded(options, () => coverage(exercise, options)));

try {
  await program.parseAsync();
} catch (error) {
  if (!(error instanceof ProblemError)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exitCode = 2;
}
