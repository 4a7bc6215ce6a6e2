import type { Kernel, Shape, WorkPlane } from '#core/kernel';
import { offsetPlane, pointOn } from '#core/kernel';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { evaluateExpression, evaluateParameters, LENGTH_UNITS, type Scope } from '#core/quantity';
import type { Surface } from '#core/solid';
import { add, cross, dot, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import { cylinder, placeOutline, prismSurfaces, turnedSurfaces, type Evaluate, type PlacedOutline } from './outline.ts';
import type { EdgeSelector, PlaneReference, Recipe, Step, StepOf } from './schema.ts';
import { facesOn, reversed, roundBetween } from './surfaces.ts';

/** Surfaces by step and role, in mm. A name stays when values change; not every one survives the later steps. */
export type NamedSurfaces = ReadonlyMap<string, Surface>;

/** What a recipe builds. The owner frees `shape`. */
export interface Built {
  readonly shape: Shape;
  readonly surfaces: NamedSurfaces;
  /** Values of the parameters in the drawing unit. */
  readonly scope: Scope;
}

/** Values that replace those of parameters with the same name, as expressions. */
export type ParameterValues = Readonly<Record<string, string>>;

/** The recipe with other parameter values. Unknown names refuse with `unknown-parameter`. */
export function withValues(recipe: Recipe, values: ParameterValues): Result<Recipe> {
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

/** The work plane with a given normal; u is X where possible, so that planes do not turn when values change. */
export function planeAt(origin: Vec3, normal: Vec3): WorkPlane {
  const along: Vec3 = Math.abs(normal[0]) > 0.9 ? [0, 1, 0] : [1, 0, 0];
  const u = normalize(subtract(along, scale(normal, dot(along, normal))));
  return { origin, u, v: cross(normal, u), normal };
}

const BASE_NORMALS: Readonly<Record<'XY' | 'XZ' | 'YZ', Vec3>> = { XY: [0, 0, 1], XZ: [0, -1, 0], YZ: [1, 0, 0] };

class Builder {
  private readonly kernel: Kernel;
  private readonly recipe: Recipe;
  private readonly scope: Scope;
  private readonly surfaces = new Map<string, Surface>();
  private body: Shape | null = null;

  constructor(kernel: Kernel, recipe: Recipe, scope: Scope) {
    this.kernel = kernel;
    this.recipe = recipe;
    this.scope = scope;
  }

  run(): Built {
    try {
      for (const step of this.recipe.steps) this.named(step);
      if (this.body === null) throw new ProblemError('no-body', 'The recipe builds no body.');
      return { shape: this.body, surfaces: this.surfaces, scope: this.scope };
    } catch (error) {
      this.body?.free();
      throw error;
    }
  }

  /** Names the step in every problem it raises. */
  private named(step: Step): void {
    try {
      this.apply(step);
    } catch (error) {
      const name = step.label ?? step.id;
      if (error instanceof ProblemError)
        throw new ProblemError(error.problem.code, `Step "${name}": ${error.problem.message}`);
      throw error;
    }
  }

  private apply(step: Step): void {
    switch (step.op) {
      case 'extrude': {
        this.extrude(step);
        return;
      }
      case 'revolve': {
        this.revolve(step);
        return;
      }
      case 'hole': {
        this.hole(step);
        return;
      }
      case 'fillet':
      case 'chamfer': {
        this.dress(step);
        return;
      }
    }
  }

  /** Lengths are evaluated in the drawing unit and returned in mm. */
  private readonly lengthMm: Evaluate = (expression, what) => {
    const value = evaluateExpression(expression, this.scope, this.recipe.unit);
    if (!value.ok) throw new ProblemError(value.problem.code, `${what}: ${value.problem.message}`);
    return value.value * LENGTH_UNITS[this.recipe.unit];
  };

  private number(expression: string, what: string): number {
    return this.lengthMm(expression, what) / LENGTH_UNITS[this.recipe.unit];
  }

  private size(expression: string, what: string): number {
    const value = this.lengthMm(expression, what);
    if (!(value > 1e-9)) throw new ProblemError('size-not-positive', `The ${what} must be greater than zero.`);
    return value;
  }

  private plane(reference: PlaneReference): WorkPlane {
    if ('base' in reference) {
      const normal = BASE_NORMALS[reference.base];
      const offset = reference.offset === undefined ? 0 : this.lengthMm(reference.offset, 'plane offset');
      return planeAt(scale(normal, offset), normal);
    }
    const surface = this.surface(reference.surface);
    if (surface.kind !== 'plane')
      throw new ProblemError('surface-not-flat', `"${reference.surface}" is not flat, so nothing can be drawn on it.`);
    return planeAt(scale(surface.normal, dot(surface.origin, surface.normal)), surface.normal);
  }

  private surface(name: string): Surface {
    const surface = this.surfaces.get(name);
    if (surface !== undefined) return surface;
    const step = name.split('.')[0] ?? '';
    const near = [...this.surfaces.keys()].filter((known) => known.startsWith(`${step}.`)).slice(0, 8);
    throw new ProblemError(
      'unknown-surface',
      `There is no surface "${name}".${near.length > 0 ? ` That step has ${near.join(', ')}.` : ''}`,
    );
  }

  private name(step: Step, index: number, count: number, role: string): string {
    return count === 1 ? `${step.id}.${role}` : `${step.id}.${String(index + 1)}.${role}`;
  }

  /** Joins tools to the body or takes them away, then frees them. */
  private combine(mode: 'add' | 'cut', tools: readonly Shape[]): void {
    const before = this.body;
    const [first, ...rest] = tools;
    if (before === null && mode === 'add' && first !== undefined && rest.length === 0) {
      this.body = first;
      return;
    }
    try {
      if (before !== null) {
        this.body = mode === 'add' ? this.kernel.fuse(before, tools) : this.kernel.cut(before, tools);
        before.free();
      } else if (mode === 'add' && first !== undefined) {
        this.body = this.kernel.fuse(first, rest);
      } else {
        throw new ProblemError('nothing-to-cut', 'There is no body yet to cut from.');
      }
    } finally {
      for (const tool of tools) tool.free();
    }
    const bodies = this.kernel.bodyCount(this.body);
    if (bodies === 0) throw new ProblemError('nothing-left', 'This cut removes the whole body.');
    if (bodies > 1)
      throw new ProblemError('several-bodies', `After this step the part falls into ${String(bodies)} bodies.`);
  }

  private requireBody(): Shape {
    if (this.body === null) throw new ProblemError('nothing-to-cut', 'There is no body yet.');
    return this.body;
  }

  private extrude(step: StepOf<'extrude'>): void {
    const plane = this.plane(step.plane);
    const outlines = step.outlines.map((outline) => placeOutline(outline, this.lengthMm));
    const { fromMm, toMm } = this.extent(step, plane);
    const tools = outlines.map((outline) => this.kernel.extrude(plane, outline.contour, fromMm, toMm));
    this.combine(step.mode, tools);
    outlines.forEach((outline, i) => {
      for (const [role, surface] of prismSurfaces(plane, outline, fromMm, toMm))
        this.surfaces.set(this.name(step, i, outlines.length, role), step.mode === 'add' ? surface : reversed(surface));
    });
  }

  /** Material is added along the normal of the plane and cut against it, into the body. */
  private extent(step: StepOf<'extrude'>, plane: WorkPlane): { fromMm: number; toMm: number } {
    const { extent } = step;
    switch (extent.kind) {
      case 'depth': {
        const depth = this.size(extent.depth, 'depth');
        return { fromMm: 0, toMm: step.mode === 'add' ? depth : -depth };
      }
      case 'symmetric': {
        const depth = this.size(extent.depth, 'depth');
        return { fromMm: -depth / 2, toMm: depth / 2 };
      }
      case 'through':
        return this.kernel.reach(this.requireBody(), plane);
    }
  }

  private revolve(step: StepOf<'revolve'>): void {
    const plane = this.plane(step.plane);
    const outline: PlacedOutline = placeOutline(step.outline, this.lengthMm);
    const direction: Vec2 = step.axis === 'u' ? [1, 0] : [0, 1];
    this.combine(step.mode, [this.kernel.revolve(plane, outline.contour, { origin: [0, 0], direction })]);
    const axis = step.axis === 'u' ? plane.u : plane.v;
    for (const [role, surface] of turnedSurfaces(plane, outline, plane.origin, axis))
      this.surfaces.set(`${step.id}.${role}`, step.mode === 'add' ? surface : reversed(surface));
  }

  private hole(step: StepOf<'hole'>): void {
    const plane = this.plane(step.plane);
    const radius = this.size(step.diameter, 'hole diameter') / 2;
    const points = this.places(step.at);
    const reach = this.kernel.reach(this.requireBody(), plane);
    const bottom = step.depth.kind === 'through' ? reach.fromMm : -this.size(step.depth.depth, 'hole depth');
    const recess = step.counterbore && {
      radius: this.size(step.counterbore.diameter, 'counterbore diameter') / 2,
      depth: this.size(step.counterbore.depth, 'counterbore depth'),
    };
    if (recess && recess.radius <= radius)
      throw new ProblemError('counterbore-too-small', 'The counterbore must be wider than the hole.');
    const circle = (center: Vec2, radiusMm: number) => ({ kind: 'circle', center, radiusMm }) as const;
    // The tool starts above the face so that no skin is left where both would coincide.
    const tools = points.flatMap((point) => [
      this.kernel.extrude(plane, circle(point, radius), bottom, reach.toMm),
      ...(recess ? [this.kernel.extrude(plane, circle(point, recess.radius), -recess.depth, reach.toMm)] : []),
    ]);
    this.combine('cut', tools);
    points.forEach((point, i) => {
      const set = (role: string, surface: Surface) =>
        this.surfaces.set(this.name(step, i, points.length, role), surface);
      const center = pointOn(plane, point);
      set('wall', cylinder(center, plane.normal, radius, 'concave'));
      if (step.depth.kind === 'blind')
        set('floor', { kind: 'plane', origin: add(center, scale(plane.normal, bottom)), normal: plane.normal });
      if (recess) {
        set('recess', cylinder(center, plane.normal, recess.radius, 'concave'));
        const shoulder = offsetPlane(plane, -recess.depth);
        set('shoulder', { kind: 'plane', origin: pointOn(shoulder, point), normal: plane.normal });
      }
    });
  }

  private places(at: StepOf<'hole'>['at']): Vec2[] {
    if (at.kind === 'points')
      return at.points.map(([u, v]) => [this.lengthMm(u, 'hole position'), this.lengthMm(v, 'hole position')]);
    const count = this.number(at.count, 'number of holes');
    if (!Number.isInteger(Math.round(count * 1e6) / 1e6) || count < 1 || count > 200)
      throw new ProblemError('hole-count', 'The number of holes must be a whole number from 1 to 200.');
    const radius = this.size(at.diameter, 'bolt circle diameter') / 2;
    const start = ((at.startAngle === undefined ? 0 : this.number(at.startAngle, 'start angle')) * Math.PI) / 180;
    const center: Vec2 = [this.lengthMm(at.center[0], 'center'), this.lengthMm(at.center[1], 'center')];
    return Array.from({ length: Math.round(count) }, (_, i) => {
      const angle = start + (2 * Math.PI * i) / Math.round(count);
      return [center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)];
    });
  }

  private dress(step: StepOf<'fillet'> | StepOf<'chamfer'>): void {
    const body = this.requireBody();
    const chosen = step.edges.map((selector) => this.edgesBetween(body, selector));
    const ids = [...new Set(chosen.flatMap(({ edgeIds }) => edgeIds))];
    const size = step.op === 'fillet' ? this.size(step.radius, 'radius') : this.size(step.size, 'chamfer size');
    this.body = step.op === 'fillet' ? this.kernel.fillet(body, ids, size) : this.kernel.chamfer(body, ids, size);
    body.free();
    if (step.op !== 'fillet') return;
    step.edges.forEach(({ between: [a, b] }, i) => {
      const side = chosen[i]?.side ?? 'convex';
      const round = roundBetween(this.surface(a), this.surface(b), size, side);
      if (round) this.surfaces.set(this.name(step, i, step.edges.length, 'round'), round);
    });
  }

  private edgesBetween(body: Shape, { between }: EdgeSelector): { edgeIds: number[]; side: 'convex' | 'concave' } {
    const { faces, edges } = this.kernel.tables(body);
    const [onA, onB] = between.map((name) => facesOn(faces, this.surface(name)));
    const found = edges.filter(
      ({ faceIds: [first = -1, second = -1] }) =>
        (onA?.includes(first) && onB?.includes(second)) || (onA?.includes(second) && onB?.includes(first)),
    );
    if (found.length === 0)
      throw new ProblemError('no-edge', `The surfaces ${between.join(' and ')} do not meet in an edge.`);
    return {
      edgeIds: found.map((edge) => edge.id),
      side: found.some((edge) => edge.joint === 'concave') ? 'concave' : 'convex',
    };
  }
}

/**
 * Builds a recipe, with other parameter values where given. Refuses with the problem of the step that failed; its
 * message begins with the name of the step. The caller frees the shape.
 */
export function buildRecipe(kernel: Kernel, recipe: Recipe, values: ParameterValues = {}): Result<Built> {
  return attempt(() => {
    const effective = unwrap(withValues(recipe, values));
    const scope = unwrap(evaluateParameters(effective.parameters, effective.unit));
    return new Builder(kernel, effective, scope).run();
  });
}
