import type { Values } from '#core/outline';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { evaluateExpression, LENGTH_UNITS, type DrawingUnit, type Scope } from '#core/quantity';

/** Values that replace those of parameters with the same name, as expressions. */
export type ParameterValues = Readonly<Record<string, string>>;

/** Parts of a recipe that hold its values. */
interface WithParameters {
  readonly parameters: readonly { readonly name: string; readonly value: string }[];
}

/** The recipe with other parameter values. Unknown names refuse with `unknown-parameter`. */
export function withValues<R extends WithParameters>(recipe: R, values: ParameterValues): Result<R> {
  return attempt(() => {
    for (const name of Object.keys(values))
      if (!recipe.parameters.some((parameter) => parameter.name === name))
        throw new ProblemError(
          'unknown-parameter',
          `The part has no parameter "${name}"; it has ${recipe.parameters.map((p) => p.name).join(', ') || 'none'}.`,
        );
    return {
      ...recipe,
      parameters: recipe.parameters.map((parameter) => ({
        ...parameter,
        value: values[parameter.name] ?? parameter.value,
      })),
    };
  });
}

/** Evaluates the expressions of steps. Every problem begins with what was evaluated. */
export class StepValues implements Values {
  private readonly scope: Scope;
  private readonly unit: DrawingUnit;
  constructor(scope: Scope, unit: DrawingUnit) {
    this.scope = scope;
    this.unit = unit;
  }

  number(expression: string, what: string): number {
    const value = evaluateExpression(expression, this.scope, this.unit);
    if (!value.ok) throw new ProblemError(value.problem.code, `${what}: ${value.problem.message}`);
    return unwrap(value);
  }

  lengthMm(expression: string, what: string): number {
    return this.number(expression, what) * LENGTH_UNITS[this.unit];
  }

  sizeMm(expression: string, what: string): number {
    const value = this.lengthMm(expression, what);
    if (!(value > 1e-9)) throw new ProblemError('size-not-positive', `The ${what} must be greater than zero.`);
    return value;
  }

  angleRad(expression: string, what: string): number {
    return (this.number(expression, what) * Math.PI) / 180;
  }

  count(expression: string, what: string, { least, most }: { readonly least: number; readonly most: number }): number {
    const value = this.number(expression, what);
    const whole = Math.round(value);
    if (Math.abs(value - whole) > 1e-6 || whole < least || whole > most)
      throw new ProblemError(
        'bad-count',
        `The ${what} must be a whole number from ${String(least)} to ${String(most)}.`,
      );
    return whole;
  }
}
