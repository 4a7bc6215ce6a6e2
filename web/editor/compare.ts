import * as v from 'valibot';

import type { Check } from '#core/check';
import { DEFAULT_SHEET, type Exercise } from '#core/exercise';
import { describeStep } from '#core/recipe';
import { ruleText, TYPED_LABELS } from '#core/grade';
import { causeName, CauseKindSchema } from '#core/cause';
import { scaleText } from '#core/sheet';
import { plural } from '#web/ui';

/** One difference between two states of an exercise, in words. */
export interface Difference {
  readonly what: string;
  readonly before: string;
  readonly after: string;
}

const NOTHING = '–';

function sized(check: Check): string {
  const nominal = 'nominal' in check ? check.nominal : '';
  const tolerance =
    'tolerancePercent' in check
      ? `± ${String(check.tolerancePercent)} %`
      : 'tolerance' in check
        ? typeof check.tolerance === 'string'
          ? `± ${check.tolerance}`
          : `${check.tolerance.lower} to ${check.tolerance.upper}`
        : '';
  return [check.kind, nominal, tolerance, `weight ${String(check.weight)}`, check.off === true ? 'off' : '']
    .filter((text) => text !== '')
    .join(', ');
}

/** Items of two lists with the same id side by side, as texts. */
function matched<T>(
  before: readonly T[],
  after: readonly T[],
  {
    idOf,
    nameOf,
    textOf,
  }: { readonly idOf: (item: T) => string; readonly nameOf: (item: T) => string; readonly textOf: (item: T) => string },
): Difference[] {
  const ids = [...new Set([...before.map(idOf), ...after.map(idOf)])];
  return ids.flatMap((id): Difference[] => {
    const [a, b] = [before, after].map((items) => items.find((item) => idOf(item) === id));
    const [textA, textB] = [a === undefined ? NOTHING : textOf(a), b === undefined ? NOTHING : textOf(b)];
    const named = b ?? a;
    const same = JSON.stringify(a) === JSON.stringify(b);
    if (same || named === undefined) return [];
    return [{ what: nameOf(named), before: textA, after: textA === textB ? `${textB} (changed inside)` : textB }];
  });
}

const valuesOf = (values: Readonly<Record<string, string>>): string =>
  Object.entries(values)
    .map(([name, value]) => `${name} = ${value}`)
    .join(', ') || 'as drawn';

function scoringOf({ scoring, checks }: Exercise): string {
  const labelOf = (id: string) => checks.find((check) => check.id === id)?.label ?? id;
  return [
    `partial credit up to ${String(scoring.partialReach)} tolerances`,
    `a typed value weighs ${String(scoring.typedValueWeight)}`,
    `a build rule weighs ${String(scoring.ruleWeight ?? 0)}`,
    `at most ${String(scoring.notOneBodyCap)} % if not one body`,
    scoring.rootCauseOnce === true ? 'a root cause counts once' : '',
    ...(scoring.gates ?? []).map(({ checkId, most }) => `at most ${String(most)} % if ${labelOf(checkId)} is wrong`),
    `in steps of ${String(scoring.roundTo ?? 0.1)}`,
  ]
    .filter((text) => text !== '')
    .join('; ');
}

/** The sheet in words: what is not said here is how it is arranged. */
function sheetOf({ sheet, projection, decimals }: Exercise): string {
  const { paper, scale, views, letters, format, drawing } = sheet ?? DEFAULT_SHEET;
  return [
    paper,
    scale === undefined ? '' : scaleText(scale),
    plural(views.length, 'view'),
    projection.replace('-', ' '),
    plural(decimals, 'decimal'),
    format === 'fraction' ? 'fractions' : '',
    letters === 'values' ? 'values written in' : '',
    drawing === undefined ? '' : `drawing ${drawing.fileName}`,
  ]
    .filter((text) => text !== '')
    .join(', ');
}

const listed = (texts: readonly string[]): string => (texts.length === 0 ? NOTHING : texts.join('; '));

/** What changed from one state of an exercise to another, in the order of the editor. */
export function differencesOf(before: Exercise, after: Exercise): readonly Difference[] {
  /** One line where something differs; where its words do not tell, it is said that more than they changed. */
  const told = (
    what: string,
    textOf: (of: Exercise) => string,
    partOf: (of: Exercise) => unknown = textOf,
  ): Difference[] => {
    if (JSON.stringify(partOf(before)) === JSON.stringify(partOf(after))) return [];
    const [old, now] = [textOf(before), textOf(after)];
    return [{ what, before: old, after: old === now ? `${now} (changed inside)` : now }];
  };
  const stepNumber = (exercise: Exercise, id: string) => exercise.recipe.steps.findIndex((step) => step.id === id);
  const order = (exercise: Exercise, other: Exercise) =>
    exercise.recipe.steps
      .map(({ id }) => id)
      .filter((id) => stepNumber(other, id) >= 0)
      .join(', ');
  const [oldOrder, newOrder] = [order(before, after), order(after, before)];
  return [
    ...told('Number', ({ number }) => number),
    ...told('Title', ({ title }) => title),
    ...told('Level', ({ level }) => level),
    ...told('Description', ({ brief }) => brief),
    ...told('Origin and orientation', ({ origin }) => origin),
    ...told('Notes on the sheet', ({ notes }) => listed(notes)),
    ...told('Material', ({ material }) => `${material.name}, ${String(material.densityGPerCm3)} g/cm³`),
    ...told(
      'Model file',
      ({ model }) => (model === undefined ? NOTHING : `${model.fileName}, ${model.unit ?? 'unit not confirmed'}`),
      ({ model }) => model,
    ),
    ...told('Unit', ({ recipe }) => recipe.unit),
    ...matched(before.recipe.parameters, after.recipe.parameters, {
      idOf: ({ name }) => name,
      nameOf: ({ name }) => `Letter ${name}`,
      textOf: ({ value, label }) => `${value}${label === undefined ? '' : ` (${label})`}`,
    }),
    ...matched(before.recipe.steps, after.recipe.steps, {
      idOf: ({ id }) => id,
      nameOf: (step) => `Step ${step.label ?? step.id}`,
      textOf: (step) => `${describeStep(step)}${step.off === true ? ' (off)' : ''}`,
    }),
    ...(oldOrder === newOrder ? [] : [{ what: 'Order of the steps', before: oldOrder, after: newOrder }]),
    ...matched(before.checks, after.checks, {
      idOf: ({ id }) => id,
      nameOf: ({ label }) => `Check ${label}`,
      textOf: sized,
    }),
    ...told('Sheet', sheetOf, ({ sheet = DEFAULT_SHEET, projection, decimals }) => [sheet, projection, decimals]),
    ...matched(before.variants, after.variants, {
      idOf: ({ name }) => name,
      nameOf: ({ name }) => `Variant ${name}`,
      textOf: ({ values }) => valuesOf(values),
    }),
    ...matched(
      before.stages.map((stage, i) => ({ ...stage, number: i + 2 })),
      after.stages.map((stage, i) => ({ ...stage, number: i + 2 })),
      {
        idOf: ({ number }) => String(number),
        nameOf: ({ number }) => `Stage ${String(number)}`,
        textOf: ({ title, values, adds = [] }) =>
          [title, valuesOf(values), adds.length === 0 ? '' : `adds ${adds.join(', ')}`]
            .filter((text) => text !== '')
            .join('; '),
      },
    ),
    ...told('Scoring', scoringOf, ({ scoring }) => scoring),
    ...told('Typed numbers', ({ typedValues }) => listed(typedValues.map((name) => TYPED_LABELS[name]))),
    ...told('How it should be built', ({ rules }) => listed(rules.map(ruleText))),
    ...told('How likely mistakes are', ({ likelihoods = {} }) =>
      listed(Object.entries(likelihoods).map(([kind, factor]) => `${kindName(kind)} ${String(factor)} x`)),
    ),
  ];
}

const kindName = (kind: string): string => (v.is(CauseKindSchema, kind) ? causeName(kind) : kind);
