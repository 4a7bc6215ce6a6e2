import { evaluateExpression, type Scope } from '#core/quantity';
import { operationOf, type NumberRole, type Recipe, type Step } from '#core/recipe';

import type { Path } from './edit.ts';

/** A number in a step, as an expression, where it stands, and what it is. */
export interface NumericArgument {
  readonly stepId: string;
  readonly path: Path;
  readonly role: NumberRole;
  readonly expression: string;
  /** In the drawing unit; degrees for angles. */
  readonly value: number;
}

const ROLE_OF_KEY: Readonly<Record<string, NumberRole>> = {
  diameter: 'diameter',
  radius: 'radius',
  size: 'width',
  other: 'chamfer',
  width: 'width',
  height: 'width',
  length: 'width',
  thickness: 'width',
  depth: 'depth',
  back: 'depth',
  start: 'offset',
  offset: 'offset',
  distance: 'offset',
  by: 'offset',
  spacing: 'spacing',
  angle: 'angle',
  startAngle: 'angle',
  pointAngle: 'angle',
  count: 'count',
  sides: 'count',
};
const POINTS = new Set(['points', 'center', 'corner', 'start', 'to', 'through', 'from', 'by', 'at']);
/** Fields that hold no number that a sheet gives. */
const SKIPPED = new Set(['id', 'label', 'op', 'edges', 'tapped', 'thread', 'steps', 'skip', 'plane', 'pointAngle']);

/** All numbers of the steps that are on. */
export function numericArgumentsOf(recipe: Recipe, scope: Scope): readonly NumericArgument[] {
  return recipe.steps.filter(({ off }) => off !== true).flatMap((step) => argumentsIn(step, recipe, scope));
}

function argumentsIn(step: Step, recipe: Recipe, scope: Scope): readonly NumericArgument[] {
  const found: NumericArgument[] = [];
  const add = (expression: string, path: Path, role: NumberRole): void => {
    const value = evaluateExpression(expression, scope, recipe.unit);
    if (value.ok && Number.isFinite(value.value))
      found.push({ stepId: step.id, path, role, expression, value: value.value });
  };
  const walk = (value: unknown, path: readonly (string | number)[], owner: unknown, asPoint: boolean): void => {
    const key = path.findLast((part): part is string => typeof part === 'string') ?? '';
    if (typeof value === 'string') {
      const role = asPoint ? 'position' : roleOf(key, step, owner);
      if (role !== null) add(value, path, role);
    } else if (Array.isArray(value))
      value.forEach((item: unknown, i) => {
        walk(item, [...path, i], owner, POINTS.has(key));
      });
    else if (typeof value === 'object' && value !== null)
      for (const [name, item] of Object.entries(value))
        if (!SKIPPED.has(name) || (name === 'plane' && isOffset(item)))
          walk(
            name === 'plane' ? { offset: (item as { offset?: unknown }).offset } : item,
            [...path, name],
            value,
            false,
          );
  };
  walk(step, [], null, false);
  return found;
}

const isOffset = (item: unknown): boolean => typeof item === 'object' && item !== null && 'offset' in item;

function roleOf(key: string, step: Step, owner: unknown): NumberRole | null {
  const own = operationOf(step.op).numberRoles?.[key];
  if (own !== undefined && (owner === null || owner === step || !('shape' in Object(owner)))) return own;
  const role = ROLE_OF_KEY[key] ?? null;
  if (role === 'width' && key === 'size') {
    const shape = (owner as { readonly shape?: string } | null)?.shape;
    return shape === 'filleted' ? 'radius' : shape === 'chamfered' ? 'chamfer' : 'width';
  }
  return role;
}
