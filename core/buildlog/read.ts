import * as v from 'valibot';

import { refuse, succeed, type Result } from '#core/problem';
import {
  describeStep,
  migrateRecipe,
  operationOf,
  RecipeSchema,
  type Operation,
  type Recipe,
  type StepExtent,
} from '#core/recipe';
import { readTable as readDelimited } from '#core/table';

import { extentIn, operationIn, OUTLINE_WORDS } from './words.ts';

/** One step of a list as it was understood. */
export interface LoggedStep {
  /** Line of the text, or place in the list, from 1. */
  readonly line: number;
  readonly text: string;
  readonly operation: Operation;
  readonly extent: StepExtent | null;
}

export interface BuildLog {
  readonly format: 'text' | 'csv' | 'json' | 'recipe';
  readonly steps: readonly LoggedStep[];
  /** Outlines: they come before a step and are none themselves. */
  readonly outlines: number;
  /** What was not understood, to be put in other words. */
  readonly unread: readonly { readonly line: number; readonly text: string }[];
  /** The recipe itself, where one was handed in. */
  readonly recipe: Recipe | null;
}

/** Far more than the steps of any exercise: 50 of them with a sentence each come to 5 kB. */
export const MAX_LOG_LENGTH = 40_000;
const MAX_LOG_LINES = 400;
const SHOWN_LENGTH = 120;

/**
 * Reads a list of build steps: one step a line in ordinary words, a table with a column that names them, JSON, or a recipe.
 * Refuses with `log-too-long`, and with `log-without-steps` where not one step was understood. An empty text is an empty
 * list.
 */
export function readBuildLog(text: string): Result<BuildLog> {
  if (text.length > MAX_LOG_LENGTH || text.split('\n').length > MAX_LOG_LINES)
    return refuse(
      'log-too-long',
      `This list of build steps is too long: at most ${String(MAX_LOG_LINES)} lines and ${String(MAX_LOG_LENGTH / 1000)} thousand characters. Leave only the names of the steps.`,
    );
  const trimmed = text.replace(/^\uFEFF/, '').trim();
  if (trimmed === '') return succeed({ format: 'text', steps: [], outlines: 0, unread: [], recipe: null });
  const log = readJson(trimmed) ?? readTable(trimmed) ?? readLines('text', trimmed.split('\n'));
  return log.steps.length > 0
    ? succeed(log)
    : refuse(
        'log-without-steps',
        'No build step was understood in this list. Write one step a line, such as "Extrude base plate" or "Hole 8 through all".',
      );
}

function readLines(format: BuildLog['format'], lines: readonly string[]): BuildLog {
  const steps: LoggedStep[] = [];
  const unread: { line: number; text: string }[] = [];
  let outlines = 0;
  lines.forEach((raw, i) => {
    // A number before it and a mark of the list are no part of the step.
    const text = raw.trim().replace(/^[-*•–]\s*|^\(?(step\s*)?\d{1,3}\s*[.):]\s*/i, '');
    if (text === '') return;
    const words = wordsOf(text);
    const operation = operationIn(words);
    if (OUTLINE_WORDS.test(words)) outlines++;
    else if (operation === null) unread.push({ line: i + 1, text: text.slice(0, SHOWN_LENGTH) });
    else steps.push({ line: i + 1, text: text.slice(0, SHOWN_LENGTH), operation, extent: extentIn(words) });
  });
  return { format, steps, outlines, unread, recipe: null };
}

/** Small letters; words that were run together or joined by signs come apart, and numbers at their end too. */
const wordsOf = (text: string): string =>
  text
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Za-z])(\d)/g, '$1 $2')
    .replace(/[_/,;:]+/g, ' ')
    .replace(/\s+/g, ' ')
    .toLowerCase();

/** A table is read where most of its rows have the same number of cells, more than one, and a column names operations. */
function readTable(text: string): BuildLog | null {
  const { rows: data, delimiter } = readDelimited(text);
  const width = Math.max(...data.map((row) => row.length));
  if (width < 2 || data.length < 3 || !/[,;\t|]/.test(delimiter)) return null;
  const filled = data.filter((row) => row.length === width).length;
  if (filled < 0.8 * data.length) return null;
  const counts = Array.from(
    { length: width },
    (_, column) => data.filter((row) => operationIn(wordsOf(row[column] ?? '')) !== null).length,
  );
  const best = counts.indexOf(Math.max(...counts));
  if ((counts[best] ?? 0) < 2) return null;
  // The first row is a heading where its cell names no operation.
  const hasHeading = operationIn(wordsOf(data[0]?.[best] ?? '')) === null;
  const cellsOf = (row: readonly string[]): string =>
    [row[best], ...row.filter((cell, column) => column !== best && /[a-z]{3}/i.test(cell))].join(' ');
  return readLines('csv', [...(hasHeading ? [''] : []), ...data.slice(hasHeading ? 1 : 0).map(cellsOf)]);
}

const NamedStepSchema = v.union([
  v.string(),
  v.pipe(
    v.record(v.string(), v.unknown()),
    v.transform((step) =>
      ['operation', 'op', 'type', 'kind', 'feature', 'name', 'step', 'label', 'extent', 'depth', 'note']
        .map((key) => step[key])
        .filter((part): part is string => typeof part === 'string')
        .join(' '),
    ),
  ),
]);
const StepListSchema = v.pipe(v.array(NamedStepSchema), v.maxLength(MAX_LOG_LINES));
const JsonLogSchema = v.union([
  StepListSchema,
  v.pipe(
    v.object({ steps: StepListSchema }),
    v.transform(({ steps }) => steps),
  ),
]);

function readJson(text: string): BuildLog | null {
  if (!/^[[{]/.test(text)) return null;
  const parsed = v.safeParse(v.pipe(v.string(), v.parseJson()), text);
  if (!parsed.success) return null;
  const recipe = v.safeParse(RecipeSchema, migrateRecipe(parsed.output));
  if (recipe.success) return logOfRecipe(recipe.output);
  const listed = v.safeParse(JsonLogSchema, parsed.output);
  return listed.success ? readLines('json', listed.output) : null;
}

function logOfRecipe(recipe: Recipe): BuildLog {
  const built = recipe.steps.filter(({ off }) => off !== true);
  const steps = built.map((step, i): LoggedStep => ({
    line: i + 1,
    text: (step.label ?? describeStep(step)).slice(0, SHOWN_LENGTH),
    operation: step.op,
    extent: operationOf(step.op).extent?.(step) ?? null,
  }));
  return { format: 'recipe', steps, outlines: 0, unread: [], recipe };
}
