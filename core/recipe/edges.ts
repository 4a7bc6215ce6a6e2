import type { Shape } from '#core/kernel';
import { ProblemError } from '#core/problem';
import type { Edge, Face } from '#core/solid';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import { add, cross, distance, dot, length, normalize, scale, subtract, type Vec3 } from '#core/vector';

import type { Context } from './context.ts';
import type { EdgeSelector } from './entries.ts';
import { facesOn } from './surfaces.ts';

/** Edges that a selector finds, and the way their faces meet. */
export interface Selected {
  readonly edges: readonly Edge[];
  readonly side: 'convex' | 'concave';
}

const AXES: Readonly<Record<'x' | 'y' | 'z', Vec3>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
const isCorner = (edge: Edge): boolean => edge.convexity === 'convex' || edge.convexity === 'concave';

/** Edges of the body by a selector. Finding none, or another number than was stated, refuses with a suggestion. */
export function selectEdges(body: Shape, selector: EdgeSelector, context: Context): Selected {
  const { faces, edges } = context.tables(body);
  const found = matching(body, selector, { faces, edges, context });
  if (found.length === 0) throw nothing(selector, faces, edges, context);
  if ('count' in selector && selector.count !== undefined) {
    const wanted = context.values.count(selector.count, 'number of edges', { least: 1, most: 1000 });
    if (wanted !== found.length)
      throw new ProblemError(
        'edge-count',
        `${String(wanted)} edges along ${selector.along} were expected, the part has ${String(found.length)} here. Change the number, or name the edges by their surfaces.`,
      );
  }
  return { edges: found, side: found.some((edge) => edge.convexity === 'concave') ? 'concave' : 'convex' };
}

function matching(
  body: Shape,
  selector: EdgeSelector,
  {
    faces,
    edges,
    context,
  }: { readonly faces: readonly Face[]; readonly edges: readonly Edge[]; readonly context: Context },
): readonly Edge[] {
  const on = (name: string) => facesOn(faces, context.surface(name));
  const wanted = (edge: Edge, convexity: 'convex' | 'concave' | undefined) =>
    convexity === undefined ? isCorner(edge) : edge.convexity === convexity;
  if ('between' in selector) {
    const [a, b] = selector.between;
    const [onA, onB] = [on(a), on(b)];
    return edges.filter(
      ({ faceIds: [first = -1, second = -1] }) =>
        (onA.includes(first) && onB.includes(second)) || (onA.includes(second) && onB.includes(first)),
    );
  }
  if ('around' in selector) {
    const ids = on(selector.around);
    return edges.filter((edge) => wanted(edge, selector.convexity) && edge.faceIds.some((id) => ids.includes(id)));
  }
  if ('along' in selector)
    return edges.filter(
      (edge) =>
        edge.curve === 'line' &&
        wanted(edge, selector.convexity) &&
        length(cross(normalize(subtract(edge.end, edge.start)), AXES[selector.along])) < BUILT_PARALLEL_SINE,
    );
  if ('every' in selector) {
    const spared = new Set((selector.except ?? []).flatMap(on));
    const convexity = selector.every === 'edge' ? undefined : selector.every;
    return edges.filter((edge) => wanted(edge, convexity) && !edge.faceIds.some((id) => spared.has(id)));
  }
  const [x, y, z] = selector.near.map((coordinate) => context.values.lengthMm(coordinate, 'point near the edge'));
  const point: Vec3 = [x ?? 0, y ?? 0, z ?? 0];
  const lines = context.kernel.displayMesh(body).edges;
  const away = (edge: Edge): number =>
    Math.min(...lines.filter(({ edgeId }) => edgeId === edge.id).map(({ points }) => distanceTo(points, point)));
  const [nearest] = edges
    .filter(isCorner)
    .map((edge) => ({ edge, away: away(edge) }))
    .sort((a, b) => a.away - b.away);
  return nearest === undefined ? [] : [nearest.edge];
}

/** Shortest distance from a point to a polyline given as x, y, z, x, y, z ... */
function distanceTo(points: readonly number[], point: Vec3): number {
  const at = (i: number): Vec3 => [points[3 * i] ?? 0, points[3 * i + 1] ?? 0, points[3 * i + 2] ?? 0];
  let best = Infinity;
  for (let i = 0; i + 1 < points.length / 3; i++) {
    const [a, b] = [at(i), at(i + 1)];
    const line = subtract(b, a);
    const square = dot(line, line);
    const share = square === 0 ? 0 : dot(subtract(point, a), line) / square;
    best = Math.min(best, distance(point, add(a, scale(line, Math.max(0, Math.min(1, share))))));
  }
  return best;
}

/** Says what the surface does meet, as a suggestion. */
function nothing(
  selector: EdgeSelector,
  faces: readonly Face[],
  edges: readonly Edge[],
  context: Context,
): ProblemError {
  const none = (message: string) => new ProblemError('no-edge', message);
  if ('between' in selector) {
    const [a, b] = selector.between;
    const ids = facesOn(faces, context.surface(a));
    if (ids.length === 0) return none(`Nothing is left of the surface "${a}" at this step.`);
    if (facesOn(faces, context.surface(b)).length === 0)
      return none(`Nothing is left of the surface "${b}" at this step.`);
    const beside = new Set(
      edges.filter((edge) => edge.faceIds.some((id) => ids.includes(id))).flatMap(({ faceIds }) => faceIds),
    );
    const names = [...context.surfaces()]
      .filter(
        ([name, surface]) => name !== a && facesOn(faces, surface).some((id) => beside.has(id) && !ids.includes(id)),
      )
      .map(([name]) => name)
      .slice(0, 8);
    return none(
      `The surfaces ${a} and ${b} do not meet in an edge.${names.length > 0 ? ` ${a} meets ${names.join(', ')}.` : ''}`,
    );
  }
  if ('around' in selector) return none(`There is no such edge around "${selector.around}" at this step.`);
  if ('along' in selector) return none(`The part has no such straight edge along ${selector.along} at this step.`);
  return none('The part has no such edge at this step.');
}
