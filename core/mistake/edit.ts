import * as v from 'valibot';

import { RecipeSchema, setIn, stringsIn, type Recipe, type Step } from '#core/recipe';
import { refuse, succeed, type Result } from '#core/problem';

/** Where a value of a recipe is: the id of a step, or the name of a letter, and the way to the value in it. */
const PathSchema = v.pipe(v.array(v.union([v.string(), v.number()])), v.minLength(1), v.readonly());
export type Path = v.InferOutput<typeof PathSchema>;

/** A change of a recipe. Steps are named by their ids, so that several changes can be made one after the other. */
export const EditSchema = v.variant('kind', [
  /** Another value of a letter. */
  v.object({ kind: v.literal('parameter'), name: v.string(), value: v.string() }),
  /** Another value within a step; null takes it away. */
  v.object({ kind: v.literal('set'), stepId: v.string(), path: PathSchema, value: v.unknown() }),
  /** Another value for one hole of a step that drills several, counted from 0. */
  v.object({ kind: v.literal('single'), stepId: v.string(), hole: v.number(), path: PathSchema, value: v.unknown() }),
  /** The step is left out, with all that is built on it. */
  v.object({ kind: v.literal('drop'), stepId: v.string() }),
  v.object({ kind: v.literal('move'), stepId: v.string(), before: v.string() }),
  /** One side of a part that was read from a file lies elsewhere along an axis; lengths in mm. No number of a step. */
  v.object({
    kind: v.literal('stretch'),
    axis: v.picklist([0, 1, 2]),
    atMm: v.number(),
    lowByMm: v.number(),
    highByMm: v.number(),
  }),
]);
export type Edit = Readonly<v.InferOutput<typeof EditSchema>>;

/** The recipe with some changes. Refuses with `not-applicable` where one has nothing to change, or gives no recipe. */
export function applyEdits(recipe: Recipe, edits: readonly Edit[]): Result<Recipe> {
  let changed: Recipe = recipe;
  for (const edit of edits) {
    const next = applyEdit(changed, edit);
    if (next === null) return refuse('not-applicable', 'This mistake does not fit the part.');
    changed = next;
  }
  const parsed = v.safeParse(RecipeSchema, changed);
  return parsed.success ? succeed(parsed.output) : refuse('not-applicable', 'This mistake gives no part.');
}

function applyEdit(recipe: Recipe, edit: Edit): Recipe | null {
  switch (edit.kind) {
    case 'parameter':
      return recipe.parameters.some(({ name }) => name === edit.name)
        ? {
            ...recipe,
            parameters: recipe.parameters.map((one) => (one.name === edit.name ? { ...one, value: edit.value } : one)),
          }
        : null;
    case 'set': {
      const step = recipe.steps.find(({ id }) => id === edit.stepId);
      if (step === undefined) return null;
      const next = setIn(step, edit.path, edit.value ?? undefined);
      return { ...recipe, steps: recipe.steps.map((one) => (one === step ? next : one)) };
    }
    case 'single': {
      const step = recipe.steps.find(({ id }) => id === edit.stepId);
      if (step?.op !== 'hole' || step.at.kind !== 'points') return null;
      const { points } = step.at;
      const point = points[edit.hole];
      const others = points.filter((_, i) => i !== edit.hole);
      if (point === undefined || others.length === 0) return null;
      const alone: Step = { ...step, id: `${step.id}-alone`.slice(0, 40), at: { kind: 'points', points: [point] } };
      const changed = setIn(alone, edit.path, edit.value ?? undefined);
      const rest: Step = { ...step, at: { kind: 'points', points: others } };
      return { ...recipe, steps: recipe.steps.flatMap((one) => (one === step ? [rest, changed] : [one])) };
    }
    case 'drop':
      return recipe.steps.some(({ id }) => id === edit.stepId) ? without(recipe, edit.stepId) : null;
    case 'move': {
      const moved = recipe.steps.find(({ id }) => id === edit.stepId);
      const others = recipe.steps.filter((step) => step !== moved);
      const place = others.findIndex(({ id }) => id === edit.before);
      return moved === undefined || place < 0
        ? null
        : { ...recipe, steps: [...others.slice(0, place), moved, ...others.slice(place)] };
    }
    case 'stretch':
      return recipe;
  }
}

/** The recipe without a step, without the steps that need it, and without it in those that copy others as well. */
function without(recipe: Recipe, stepId: string): Recipe {
  const gone = new Set([stepId]);
  const steps: Step[] = [];
  for (const step of recipe.steps) {
    if (gone.has(step.id)) continue;
    const kept = 'steps' in step && step.steps !== undefined ? step.steps.filter((id) => !gone.has(id)) : null;
    const own: Step = kept === null ? step : ({ ...step, steps: kept } as Step);
    const edgesKept = 'edges' in own ? own.edges.filter((selector) => !mentions(selector, gone)) : null;
    const dressed: Step = edgesKept === null ? own : ({ ...own, edges: edgesKept } as Step);
    if (kept?.length === 0 || edgesKept?.length === 0 || mentions(dressed, gone)) gone.add(step.id);
    else steps.push(dressed);
  }
  return { ...recipe, steps };
}

/** Whether something names a step, or a surface of it, also of a copy. */
function mentions(value: unknown, stepIds: ReadonlySet<string>): boolean {
  const { id: _, label: __, op: ___, ...rest } = Object(value) as Readonly<Record<string, unknown>>;
  return stringsIn(rest).some((text) => text.split('.').some((part) => stepIds.has(part)));
}
