import { arrayMove } from '@dnd-kit/sortable';

import { operationOf, type Operation, type Recipe, type Step } from '#core/recipe';

/** A name for a new step that no other step has. */
export function freeId(recipe: Recipe, base: string): string {
  const taken = new Set(recipe.steps.map(({ id }) => id));
  for (let n = 1; ; n++) {
    const id = `${base}${String(n)}`;
    if (!taken.has(id)) return id;
  }
}

/** Sizes of a new step are in mm; in inches they are divided by 25 and rounded. */
const inUnit = (step: Step, unit: Recipe['unit']): Step =>
  unit === 'mm'
    ? step
    : (JSON.parse(
        JSON.stringify(step, (key, value: unknown) =>
          typeof value === 'string' && /^\d+(\.\d+)?$/.test(value) && !['count', 'sides', 'angle', 'id'].includes(key)
            ? String(Math.round((Number(value) / 25) * 8) / 8)
            : value,
        ),
      ) as Step);

/** A step of an operation with sizes that usually build, to be changed at once. */
export function newStep(operation: Operation, recipe: Recipe, surfaces: readonly string[]): Step {
  const last = recipe.steps.findLast((step) => ['adds', 'cuts'].includes(operationOf(step.op).effect(step)));
  const start = operationOf(operation).start({
    unit: recipe.unit,
    freeId: (base) => freeId(recipe, base),
    surfaces,
    lastStepId: last?.id ?? 'base',
  });
  return inUnit({ ...start, op: operation } as Step, recipe.unit);
}

/** The recipe with a step put in after another, or at the end. */
export function withStep(recipe: Recipe, step: Step, afterId: string | null): Recipe {
  const at = afterId === null ? -1 : recipe.steps.findIndex(({ id }) => id === afterId);
  const index = at < 0 ? recipe.steps.length : at + 1;
  return { ...recipe, steps: [...recipe.steps.slice(0, index), step, ...recipe.steps.slice(index)] };
}

export const withoutStep = (recipe: Recipe, id: string): Recipe => ({
  ...recipe,
  steps: recipe.steps.filter((step) => step.id !== id),
});

/** The recipe with a step moved to another place. */
export function moved(recipe: Recipe, id: string, to: number): Recipe {
  const from = recipe.steps.findIndex((step) => step.id === id);
  return from < 0 ? recipe : { ...recipe, steps: arrayMove([...recipe.steps], from, to) };
}

/** A copy of a step right after it, under a name of its own. */
export function duplicated(recipe: Recipe, id: string): { readonly recipe: Recipe; readonly copy: Step } | null {
  const step = recipe.steps.find((other) => other.id === id);
  if (step === undefined) return null;
  const copy = { ...step, id: freeId(recipe, `${id.replace(/-?\d+$/, '')}-`) };
  return { recipe: withStep(recipe, copy, id), copy };
}

/**
 * The recipe with another name for a step, in everything that refers to it: surfaces, copies, planes. Check plans that
 * name its surfaces are changed by the same rule.
 */
export function renamedIn<T>(document: T, from: string, to: string): T {
  const change = (value: unknown, key: string): unknown => {
    if (typeof value === 'string') {
      if (['label', 'name', 'brief', 'title'].includes(key)) return value;
      if (value === from && ['id', 'steps', 'plane', 'axis', 'adds'].includes(key)) return to;
      return value
        .split('.')
        .map((part, i, parts) => (parts.length > 1 && part === from && i < parts.length - 1 ? to : part))
        .join('.');
    }
    if (Array.isArray(value)) return value.map((item: unknown) => change(item, key));
    if (typeof value === 'object' && value !== null)
      return Object.fromEntries(Object.entries(value).map(([inner, item]) => [inner, change(item, inner)]));
    return value;
  };
  return change(document, '') as T;
}
