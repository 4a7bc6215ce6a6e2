import { solve } from '#core/fit';
import type { ChamferedEdge, Shape } from '#core/kernel';
import { cylinder, type Named } from '#core/outline';
import { ProblemError } from '#core/problem';
import type { Surface } from '#core/solid';
import { add, cross, dot, extremes, length, normalize, scale, type Vec2 } from '#core/vector';

import { numbered, type Context, type Outcome } from './context.ts';
import { selectEdges } from './edges.ts';
import { planeAt } from './planes.ts';
import type { EdgeSelector, StepOf } from './schema.ts';
import { facesOn, roundBetween, sameSurface } from './surfaces.ts';

export function fillet(step: StepOf<'fillet'>, context: Context): Outcome {
  const body = context.body();
  const radius = context.values.sizeMm(step.radius, 'radius');
  const chosen = step.edges.map((selector) => selectEdges(body, selector, context));
  const ids = [...new Set(chosen.flatMap(({ edges }) => edges.map(({ id }) => id)))];
  const rounded = context.keep(context.kernel.fillet(body, ids, radius));
  const surfaces = step.edges.flatMap((selector, i): Named[] => {
    if (!('between' in selector)) return [];
    const [a, b] = selector.between;
    const round =
      roundBetween(context.surface(a), context.surface(b), radius, chosen[i]?.side ?? 'convex') ??
      newBetween(body, rounded, [a, b], context);
    return round === null ? [] : [[numbered(i, step.edges.length, 'round'), round]];
  });
  return { kind: 'body', body: rounded, surfaces };
}

export function chamfer(step: StepOf<'chamfer'>, context: Context): Outcome {
  const { values, kernel } = context;
  const body = context.body();
  const sizeMm = values.sizeMm(step.size, 'chamfer size');
  if (step.other !== undefined && step.angle !== undefined)
    throw new ProblemError('chamfer-sizes', 'Give the chamfer a second size or an angle, not both.');
  const otherMm =
    step.other !== undefined
      ? values.sizeMm(step.other, 'second chamfer size')
      : step.angle !== undefined
        ? sizeMm * Math.tan(angleBelowRight(values.angleRad(step.angle, 'chamfer angle')))
        : undefined;
  const { faces } = context.tables(body);
  const edges = step.edges.flatMap((selector): ChamferedEdge[] => {
    const carrier = step.on ?? ('between' in selector ? selector.between[0] : undefined);
    const on = otherMm === undefined || carrier === undefined ? [] : facesOn(faces, context.surface(carrier));
    return selectEdges(body, selector, context).edges.map(({ id, faceIds }) => {
      if (otherMm === undefined) return { edgeId: id, sizeMm };
      const onFaceId = faceIds.find((face) => on.includes(face));
      if (onFaceId === undefined)
        throw new ProblemError(
          'chamfer-face',
          carrier === undefined
            ? 'Say which surface the first size of the chamfer lies on.'
            : `An edge of this chamfer does not lie on "${carrier}", which the first size is measured on.`,
        );
      return { edgeId: id, onFaceId, sizeMm, otherMm };
    });
  });
  const unique = edges.filter((edge, i) => edges.findIndex(({ edgeId }) => edgeId === edge.edgeId) === i);
  const beveled = context.keep(kernel.chamfer(body, unique));
  return { kind: 'body', body: beveled, surfaces: bevelsOf(step.edges, body, beveled, context) };
}

function angleBelowRight(angleRad: number): number {
  if (!(angleRad > 1e-3 && angleRad < Math.PI / 2 - 1e-3))
    throw new ProblemError('bad-angle', 'The chamfer angle must lie between 0 and 90 degrees.');
  return angleRad;
}

const bevelsOf = (selectors: readonly EdgeSelector[], before: Shape, after: Shape, context: Context): Named[] =>
  selectors.flatMap((selector, i): Named[] => {
    const bevel = 'between' in selector ? newBetween(before, after, selector.between, context) : null;
    return bevel === null ? [] : [[numbered(i, selectors.length, 'bevel'), bevel]];
  });

/** The surface that lies between two named ones in the new body and was not in the old one. */
function newBetween(before: Shape, after: Shape, [a, b]: readonly [string, string], context: Context): Surface | null {
  const old = context.tables(before).faces;
  const { faces, edges } = context.tables(after);
  const [onA, onB] = [facesOn(faces, context.surface(a)), facesOn(faces, context.surface(b))];
  const beside = (id: number, ids: readonly number[]) =>
    edges.some(({ faceIds }) => faceIds.includes(id) && faceIds.some((other) => ids.includes(other)));
  const found = faces.find(
    ({ id, surface }) =>
      surface.kind !== 'freeform' &&
      beside(id, onA) &&
      beside(id, onB) &&
      !old.some((face) => sameSurface(face.surface, surface)),
  );
  return found?.surface ?? null;
}

/**
 * In a section square to all three surfaces, the circle that touches them has its center at depth r below each:
 * c . n + r = d for three planes, three equations for two coordinates and r. What lies outside the arc is cut off.
 */
export function fullRound(step: StepOf<'full-round'>, context: Context): Outcome {
  const [firstName, secondName] = step.sides;
  const planes = [firstName, step.middle, secondName].map((name) => {
    const surface = context.surface(name);
    if (surface.kind !== 'plane')
      throw new ProblemError('surface-not-flat', `"${name}" is not flat; a full round needs three flat surfaces.`);
    return surface;
  });
  const [side, middle, other] = planes;
  if (side === undefined || middle === undefined || other === undefined)
    throw new ProblemError('surface-not-flat', 'A full round needs three flat surfaces.');
  const direction = normalize(cross(side.normal, middle.normal));
  if (length(cross(side.normal, middle.normal)) < 1e-6 || Math.abs(dot(direction, other.normal)) > 1e-6)
    throw new ProblemError('not-one-direction', 'The three surfaces of a full round must run in one direction.');
  const plane = planeAt(scale(direction, 0), direction);
  const flat = (vector: readonly [number, number, number]): Vec2 => [dot(vector, plane.u), dot(vector, plane.v)];
  const [n1, n2, n3] = [flat(side.normal), flat(middle.normal), flat(other.normal)];
  const [d1, d2, d3] = [side, middle, other].map(({ origin, normal }) => dot(origin, normal)) as [
    number,
    number,
    number,
  ];
  const solved = solve(
    [n1, n2, n3].map(([u, v]) => [u, v, 1]),
    [d1, d2, d3],
  );
  const [cu = 0, cv = 0, radius = 0] = solved ?? [];
  if (radius <= 1e-6) throw new ProblemError('no-round', 'No circle inside the part touches these three surfaces.');
  const on = (n: Vec2): Vec2 => [cu + radius * n[0], cv + radius * n[1]];
  const corner = (n: Vec2, d: number): Vec2 => {
    const det = n[0] * n2[1] - n[1] * n2[0];
    return [(d * n2[1] - d2 * n[1]) / det + n2[0], (n[0] * d2 - n2[0] * d) / det + n2[1]];
  };
  const body = context.body();
  const { faces, edges } = context.tables(body);
  const ids = facesOn(faces, middle);
  const [fromMm, toMm] = extremes(
    edges
      .filter(({ faceIds }) => faceIds.some((id) => ids.includes(id)))
      .flatMap(({ start, end }) => [dot(start, direction), dot(end, direction)]),
  );
  if (!(toMm > fromMm))
    throw new ProblemError('no-edge', `Nothing is left of the surface "${step.middle}" at this step.`);
  const tool = context.keep(
    context.kernel.extrude(
      plane,
      {
        kind: 'path',
        start: on(n1),
        segments: [
          { kind: 'arc', through: on(n2), to: on(n3) },
          { kind: 'line', to: corner(n3, d3) },
          { kind: 'line', to: corner(n1, d1) },
          { kind: 'line', to: on(n1) },
        ],
      },
      fromMm,
      toMm,
    ),
  );
  const center = add(add(scale(plane.u, cu), scale(plane.v, cv)), scale(direction, fromMm));
  return {
    kind: 'body',
    body: context.keep(context.kernel.cut(body, [tool])),
    surfaces: [['round', cylinder(center, direction, radius, 'convex')]],
  };
}
