import { RECIPE_VERSION } from './schema.ts';

export type Json = Readonly<Record<string, unknown>>;

/** Whether a parsed JSON value is an object, neither null nor a list. */
export const isJsonObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const stepsOf = (recipe: Json): readonly unknown[] =>
  Array.isArray(recipe['steps']) ? (recipe['steps'] as readonly unknown[]) : [];

/** Before version 2, a revolve had one outline. */
function from1(recipe: Json): Json {
  return {
    ...recipe,
    version: 2,
    steps: stepsOf(recipe).map((step) => {
      if (!isJsonObject(step) || !('outline' in step) || step['op'] !== 'revolve') return step;
      const { outline, ...rest } = step;
      return { ...rest, outlines: [outline] };
    }),
  };
}

const SHAPES_BEFORE_3: Readonly<Record<string, string>> = { rounded: 'filleted', beveled: 'chamfered' };
/** Texts that people wrote, which no name is looked for in. */
const WORDS = new Set(['label', 'name', 'brief', 'title', 'notes', 'origin']);

/**
 * Surfaces of fillets and chamfers had other names before version 3: "edge.round" is "edge.fillet" now. `document` is
 * anything that names surfaces of the steps of a recipe.
 */
export function renamedSurfaces(document: unknown, recipe: Json): unknown {
  const ops = new Map(
    stepsOf(recipe).flatMap((step) => (isJsonObject(step) ? [[String(step['id']), String(step['op'])] as const] : [])),
  );
  const renamed = (text: string): string => {
    const parts = text.split('.');
    const made = parts.slice(0, -1).flatMap((part) => ops.get(part) ?? []);
    const role = parts.at(-1);
    if (role === 'bevel' && made.includes('chamfer')) return [...parts.slice(0, -1), 'chamfer'].join('.');
    if (role === 'round' && made.includes('fillet')) return [...parts.slice(0, -1), 'fillet'].join('.');
    return text;
  };
  const walk = (value: unknown, key: string): unknown => {
    if (typeof value === 'string') return WORDS.has(key) ? value : renamed(value);
    if (Array.isArray(value)) return value.map((item: unknown) => walk(item, key));
    return isJsonObject(value)
      ? Object.fromEntries(Object.entries(value).map(([name, item]) => [name, walk(item, name)]))
      : value;
  };
  return walk(document, '');
}

/** Before version 3, edges had a joint for a convexity, and corners were rounded and beveled. */
function from2(recipe: Json): Json {
  const walk = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(walk);
    if (!isJsonObject(value)) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, item]) => {
        if (key === 'joint') return ['convexity', item];
        if (key === 'shape' && typeof item === 'string') return [key, SHAPES_BEFORE_3[item] ?? item];
        return [key, walk(item)];
      }),
    );
  };
  return { ...recipe, version: RECIPE_VERSION, steps: renamedSurfaces(stepsOf(recipe).map(walk), recipe) };
}

/** A recipe of any version as one of this version; what is no recipe comes back as it is. */
export function migrateRecipe(document: unknown): unknown {
  if (!isJsonObject(document)) return document;
  const second = document['version'] === 1 ? from1(document) : document;
  return second['version'] === 2 ? from2(second) : second;
}
