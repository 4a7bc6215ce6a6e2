import * as v from 'valibot';

import { attempt, ProblemError, type Result, type ProblemCode } from '#core/problem';

import { LENGTH_UNITS, type DrawingUnit, type LengthUnit } from './units.ts';

/** An expression of the parameters in the drawing unit, such as "A/2 - 7.5" or "1 3/4". Angles are in degrees. */
export const ExpressionSchema = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(200));

/** Values of the names an expression may use, in the drawing unit. */
export type Scope = Readonly<Record<string, number>>;

type Token =
  | { readonly kind: 'number'; readonly value: number }
  | { readonly kind: 'name'; readonly name: string }
  | { readonly kind: 'sign'; readonly sign: string };

const RAD_PER_DEG = Math.PI / 180;

/** Trigonometric functions take and give degrees, as they do on a drawing. */
const FUNCTIONS: Readonly<Record<string, (...args: number[]) => number>> = {
  abs: (x = Number.NaN) => Math.abs(x),
  sqrt: (x = Number.NaN) => Math.sqrt(x),
  sin: (x = Number.NaN) => Math.sin(x * RAD_PER_DEG),
  cos: (x = Number.NaN) => Math.cos(x * RAD_PER_DEG),
  tan: (x = Number.NaN) => Math.tan(x * RAD_PER_DEG),
  atan: (x = Number.NaN) => Math.atan(x) / RAD_PER_DEG,
  min: (...xs) => Math.min(...xs),
  max: (...xs) => Math.max(...xs),
  round: (x = Number.NaN) => Math.round(x),
};

const raise = (code: ProblemCode, message: string): never => {
  throw new ProblemError(code, message);
};

/** A comma directly between two digits is a decimal comma; a comma followed by a space, or ";", separates arguments. */
function tokenize(text: string): Token[] {
  const tokens: Token[] = [];
  const pattern = /\s*(?:(\d+(?:[.,]\d+)?|\.\d+)|([A-Za-z_]\w*)|(["()+\-*/^;,]))/y;
  const source = text
    .replace(/\u2212/g, '-')
    .replace(/[×·]/g, '*')
    .trimEnd();
  while (pattern.lastIndex < source.length) {
    const at = pattern.lastIndex;
    const match = pattern.exec(source);
    if (!match) {
      raise('expression-syntax', `"${text}" cannot be read at "${source.slice(at, at + 8).trim()}".`);
      break;
    }
    if (match[1] !== undefined) tokens.push({ kind: 'number', value: Number(match[1].replace(',', '.')) });
    else if (match[2] !== undefined) tokens.push({ kind: 'name', name: match[2] });
    else tokens.push({ kind: 'sign', sign: match[3] === ',' ? ';' : (match[3] ?? '') });
  }
  return tokens;
}

class Parser {
  private at = 0;
  private depth = 0;
  private readonly text: string;
  private readonly tokens: readonly Token[];
  private readonly scope: Scope;
  private readonly unit: DrawingUnit;
  constructor(text: string, scope: Scope, unit: DrawingUnit) {
    this.text = text;
    this.tokens = tokenize(text);
    this.scope = scope;
    this.unit = unit;
  }

  whole(): number {
    if (this.tokens.length === 0) raise('expression-empty', 'A value is missing here.');
    const value = this.sum();
    if (this.at < this.tokens.length) raise('expression-syntax', `"${this.text}" has something left over at its end.`);
    return value;
  }

  private peekSign(): string | null {
    const token = this.tokens[this.at];
    return token?.kind === 'sign' ? token.sign : null;
  }

  private sum(): number {
    let value = this.product();
    for (let sign = this.peekSign(); sign === '+' || sign === '-'; sign = this.peekSign()) {
      this.at++;
      const next = this.product();
      value = sign === '+' ? value + next : value - next;
    }
    return value;
  }

  private product(): number {
    let value = this.unary();
    for (let sign = this.peekSign(); sign === '*' || sign === '/'; sign = this.peekSign()) {
      this.at++;
      const next = this.unary();
      if (sign === '/' && next === 0) raise('division-by-zero', `"${this.text}" divides by zero.`);
      value = sign === '*' ? value * next : value / next;
    }
    return value;
  }

  private unary(): number {
    const sign = this.peekSign();
    if (sign === '-' || sign === '+') {
      this.at++;
      const value = this.unary();
      return sign === '-' ? -value : value;
    }
    return this.power();
  }

  private power(): number {
    const base = this.withUnit(this.atom());
    if (this.peekSign() !== '^') return base;
    this.at++;
    return base ** this.unary();
  }

  private withUnit(value: number): number {
    const token = this.tokens[this.at];
    const name = token?.kind === 'name' ? token.name : token?.kind === 'sign' && token.sign === '"' ? 'in' : null;
    if (name === null || !Object.hasOwn(LENGTH_UNITS, name)) return value;
    this.at++;
    return (value * LENGTH_UNITS[name as LengthUnit]) / LENGTH_UNITS[this.unit];
  }

  private atom(): number {
    if (++this.depth > 200) raise('expression-syntax', 'This expression is nested too deeply.');
    const token = this.tokens[this.at++];
    if (token?.kind === 'number') return this.mixedFraction(token.value);
    if (token?.kind === 'name') return this.named(token.name);
    if (token?.sign === '(') {
      const value = this.sum();
      if (this.peekSign() !== ')') raise('expression-syntax', `"${this.text}" lacks a closing parenthesis.`);
      this.at++;
      return value;
    }
    return raise('expression-syntax', `"${this.text}" is not complete.`);
  }

  /** "1 3/4" is one and three quarters: a whole number followed by a fraction. */
  private mixedFraction(whole: number): number {
    const [numerator, slash, denominator] = this.tokens.slice(this.at, this.at + 3);
    if (numerator?.kind !== 'number') return whole;
    if (slash?.kind === 'sign' && slash.sign === '/' && denominator?.kind === 'number' && denominator.value !== 0) {
      this.at += 3;
      return whole + numerator.value / denominator.value;
    }
    return raise('expression-syntax', `"${this.text}" has two numbers side by side.`);
  }

  private named(name: string): number {
    if (this.peekSign() === '(' && Object.hasOwn(FUNCTIONS, name)) {
      this.at++;
      const args = [this.sum()];
      while (this.peekSign() === ';') {
        this.at++;
        args.push(this.sum());
      }
      if (this.peekSign() !== ')') raise('expression-syntax', `"${this.text}" lacks a closing parenthesis.`);
      this.at++;
      return FUNCTIONS[name]?.(...args) ?? Number.NaN;
    }
    if (name === 'pi') return Math.PI;
    const value = Object.hasOwn(this.scope, name) ? this.scope[name] : undefined;
    return value ?? raise('unknown-name', `"${name}" in "${this.text}" is not a parameter of this part.`);
  }
}

/**
 * Value of an expression such as "84 - 2*7.5", "A/2 + 1 3/4", "10 mm" or "sqrt(3)*B", in the drawing unit.
 * Refuses with `expression-empty`, `expression-syntax`, `unknown-name`, `division-by-zero`, `not-finite`.
 */
export function evaluateExpression(text: string, scope: Scope, unit: DrawingUnit): Result<number> {
  return attempt(() => {
    const value = new Parser(text, scope, unit).whole();
    if (!Number.isFinite(value)) raise('not-finite', `"${text}" has no finite value.`);
    return value;
  });
}

/** The names an expression refers to, functions and units left out. Text that cannot be read has none. */
export function namesIn(text: string): readonly string[] {
  const tokens = attempt(() => tokenize(text));
  if (!tokens.ok) return [];
  return tokens.value.flatMap((token, i) => {
    if (token.kind !== 'name' || token.name === 'pi' || Object.hasOwn(LENGTH_UNITS, token.name)) return [];
    const next = tokens.value[i + 1];
    return next?.kind === 'sign' && next.sign === '(' && Object.hasOwn(FUNCTIONS, token.name) ? [] : [token.name];
  });
}

/**
 * Evaluates parameters that may refer to each other, in any order.
 * Refuses with `parameter-cycle` besides the problems of `evaluateExpression`.
 */
export function evaluateParameters(
  parameters: readonly { readonly name: string; readonly value: string }[],
  unit: DrawingUnit,
): Result<Scope> {
  return attempt(() => {
    const scope: Record<string, number> = {};
    const byName = new Map(parameters.map((parameter) => [parameter.name, parameter.value]));
    const visit = (name: string, path: readonly string[]): void => {
      const text = byName.get(name);
      if (text === undefined || Object.hasOwn(scope, name)) return;
      if (path.includes(name))
        raise('parameter-cycle', `Parameters refer to each other in a circle: ${[...path, name].join(' → ')}.`);
      for (const other of namesIn(text)) visit(other, [...path, name]);
      const value = evaluateExpression(text, scope, unit);
      if (!value.ok) throw new ProblemError(value.problem.code, `Parameter ${name}: ${value.problem.message}`);
      scope[name] = value.value;
    };
    for (const { name } of parameters) visit(name, []);
    return scope;
  });
}
