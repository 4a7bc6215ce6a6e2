import { causeName, priorOf, type MistakeKind } from '#core/cause';
import { isOnSheet, kindOf, type Quantity } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import { operationName, withValues, type NumberRole, type ParameterValues, type Recipe, type Step } from '#core/recipe';
import { unwrap } from '#core/problem';
import { evaluateExpression, evaluateParameters, LENGTH_UNITS, lengthText, namesIn, type Scope } from '#core/quantity';
import { isWallStep } from '#core/reconstruct';

import type { Edit } from './edit.ts';
import type { Mistake } from './mistake.ts';
import { numericArgumentsOf, type NumericArgument } from './numeric-arguments.ts';

const MOST_NEIGHBORS = 3;

/** What a generator says of a mistake. */
export interface Draft {
  readonly kind: MistakeKind;
  /** With the kind, unique within the part. */
  readonly key: string;
  readonly edits: readonly [Edit, ...Edit[]];
  readonly summary: string;
  readonly message: string;
  /** What it is made in, where it is not the step of its first edit. */
  readonly about?: string;
  /** Of a size that is another than the sheet gives: how that may have come. */
  readonly why?: string;
  readonly becomes?: Mistake['becomes'];
  /** How often this one is made, beside others of its kind. */
  readonly factor?: number;
  /** The expression that has another value. */
  readonly expression?: string;
  /** Many sizes give this shape. */
  readonly ofAnySize?: true;
}

/** The part that mistakes are made in, with its numbers and words, and the mistakes that were found so far. */
export class Subject {
  readonly document: Exercise;
  readonly exercise: Exercise;
  readonly values: ParameterValues;
  readonly recipe: Recipe;
  readonly scope: Scope;
  /** Steps that are on. */
  readonly steps: readonly Step[];
  readonly numericArguments: readonly NumericArgument[];
  /** Lengths that the sheet gives, in the drawing unit. */
  readonly onSheet: readonly number[];
  private readonly anglesOnSheet: readonly number[];
  /** Whether its steps were recognized in a model file. */
  readonly isFromFile: boolean;
  private readonly found = new Map<string, Mistake>();

  constructor(document: Exercise, values: ParameterValues, stage: number) {
    this.document = document;
    this.exercise = exerciseOfStage(document, stage);
    this.values = values;
    this.recipe = unwrap(withValues(this.exercise.recipe, values));
    this.scope = unwrap(evaluateParameters(this.recipe.parameters, this.recipe.unit));
    this.steps = this.recipe.steps.filter(({ off }) => off !== true);
    this.isFromFile = document.model !== undefined;
    // Places in a part that was read from a file are those of its origin, which no sheet gives; see `drivenSizes`.
    this.numericArguments = numericArgumentsOf(this.recipe, this.scope).filter(
      ({ role, stepId }) =>
        !this.isFromFile || (role !== 'position' && (role === 'diameter' || !isWallStep({ id: stepId }))),
    );
    const printed = (quantity: Quantity): readonly number[] =>
      this.exercise.checks
        .filter((check) => isOnSheet(check) && kindOf(check.kind).quantity === quantity)
        .flatMap((check) => ('nominal' in check ? (this.valueOf(check.nominal) ?? []) : []));
    const letters = (wanted: 'angle' | 'width'): readonly number[] =>
      this.recipe.parameters.flatMap(({ name }) => (this.roleOfLetter(name) === wanted ? [this.scope[name] ?? 0] : []));
    const positive = (values: readonly number[]): readonly number[] => [
      ...new Set(values.filter((value) => value > 0).map(rounded)),
    ];
    this.onSheet = positive([...printed('length'), ...letters('width')]);
    this.anglesOnSheet = positive([...printed('angle'), ...letters('angle')]);
  }

  /**
   * Whether the sheet prints a number of the recipe: not all of them are, as where the corners of an outline lie. What a
   * drawing made elsewhere prints, and one without any check, is not known.
   */
  prints(value: number, role: NumberRole): boolean {
    const isUnknown = this.exercise.sheet?.drawing !== undefined || this.onSheet.length === 0;
    if (role === 'count' || isUnknown) return true;
    const size = rounded(Math.abs(value));
    const numbers = role === 'angle' ? this.anglesOnSheet : this.onSheet;
    return numbers.some((other) => Math.abs(other - size) < 1e-6 * Math.max(1, size));
  }

  /** The first of a kind and key stays. */
  put({ kind, key, edits, summary, message, about, why, becomes, factor = 1, expression, ofAnySize }: Draft): void {
    const id = `${kind}:${key}`;
    const likelihood = this.document.likelihoods?.[kind] ?? 1;
    if (this.found.has(id) || likelihood === 0) return;
    const [{ stepId = '' }] = edits.map((edit) => ('stepId' in edit ? edit : {})) as [{ stepId?: string }];
    const step = this.stepOf(stepId);
    const where = about ?? (step === undefined ? undefined : nameOf(step));
    this.found.set(id, {
      id,
      kind,
      prior: priorOf(kind) * likelihood * factor,
      edits,
      expression: expression ?? null,
      stepIds: [...new Set(edits.flatMap((edit) => ('stepId' in edit ? edit.stepId : [])))],
      message,
      ...(where === undefined ? {} : { about: where }),
      ...(why === undefined ? {} : { why }),
      ...(becomes === undefined ? {} : { becomes }),
      summary: `${causeName(kind)}: ${summary}`,
      ...(ofAnySize === undefined ? {} : { ofAnySize }),
    });
  }

  get mistakes(): readonly Mistake[] {
    return [...this.found.values()];
  }

  valueOf(expression: string): number | null {
    const value = evaluateExpression(expression, this.scope, this.recipe.unit);
    return value.ok && Number.isFinite(value.value) ? value.value : null;
  }

  stepOf(id: string): Step | undefined {
    return this.recipe.steps.find((step) => step.id === id);
  }

  /** What a letter is used for: an angle or a number of copies where it is used for nothing else, else a length. */
  roleOfLetter(name: string): 'angle' | 'count' | 'width' {
    const roles = new Set(
      this.numericArguments.filter(({ expression }) => namesIn(expression).includes(name)).map(({ role }) => role),
    );
    const [only] = roles;
    return roles.size === 1 && (only === 'angle' || only === 'count') ? only : 'width';
  }

  words(value: number, role: NumberRole): string {
    if (role === 'count') return String(value);
    if (role === 'angle') return `${String(Number(value.toFixed(2)))}°`;
    const { unit } = this.recipe;
    return lengthText(value * LENGTH_UNITS[unit], unit, this.exercise.decimals);
  }

  /** Other lengths of the sheet, those of nearly the same size first. */
  neighborsOf(size: number): readonly number[] {
    return this.onSheet
      .filter((other) => Math.abs(other - size) > 1e-9)
      .sort((a, b) => Math.abs(Math.log(a / size)) - Math.abs(Math.log(b / size)))
      .slice(0, MOST_NEIGHBORS);
  }
}

/** What a step is called in a sentence: its label, or its operation and id. */
export const nameOf = (step: Pick<Step, 'id' | 'label' | 'op'>): string =>
  step.label ?? `${operationName(step.op)} "${step.id}"`;

/** A number to six decimals, as it is written in recipes. */
export const rounded = (value: number): number => Number(value.toFixed(6));

/** A number as a recipe writes it: six decimals at most, no trailing zeros. */
export const written = (value: number): string => String(rounded(value));

/** A number with its first two unlike neighboring digits swapped; null where there are none, or a zero would lead. */
export function swapDigits(text: string): string | null {
  const digits = /^-?(\d+)(\.\d+)?$/.exec(text);
  if (digits === null) return null;
  for (let i = 0; i + 1 < text.length; i++) {
    const [a = '', b = ''] = [text[i], text[i + 1]];
    if (/\d/.test(a) && /\d/.test(b) && a !== b && !(i === 0 && b === '0'))
      return text.slice(0, i) + b + a + text.slice(i + 2);
  }
  return null;
}
