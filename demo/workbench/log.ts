import type { Exercise } from '#core/exercise';
import { operationName } from '#core/recipe';

/** How a student writes a list of build steps: a line each, as a table, as JSON, with words of their own, or as a recipe. */
export type LogStyle = 'lines' | 'table' | 'json' | 'scribbled' | 'recipe';
/** Those that everybody has. */
export const LOG_STYLES: readonly LogStyle[] = ['lines', 'table', 'json', 'scribbled'];

/** The list of build steps that a student writes who built the part as its recipe does; with `swapped`, holes come early. */
export function logLikeStudent({ recipe }: Pick<Exercise, 'recipe'>, style: LogStyle, swapped = false): string {
  const steps = recipe.steps.filter(({ off }) => off !== true);
  const holes = steps.filter(({ op }) => op === 'hole');
  const order = swapped ? [...steps.slice(0, 1), ...holes, ...steps.slice(1).filter(({ op }) => op !== 'hole')] : steps;
  const rows = order.map((step) => {
    const through = step.op === 'hole' && step.depth.kind === 'through' ? ' through all' : '';
    return { operation: operationName(step.op), name: (step.label ?? step.id) + through };
  });
  switch (style) {
    case 'lines':
      return rows.map(({ operation, name }, i) => `${String(i + 1)}. ${operation}: ${name}`).join('\n');
    case 'table':
      return [
        'No;Operation;Name',
        ...rows.map(({ operation, name }, i) => `${String(i + 1)};${operation};${name}`),
      ].join('\n');
    case 'json':
      return JSON.stringify(rows);
    case 'recipe':
      return JSON.stringify(recipe);
    case 'scribbled':
      return [
        'Sketch first',
        ...rows.map(({ operation, name }) => `${operation.toLowerCase()} ${name}`),
        'checked it twice',
      ].join('\n');
  }
}
