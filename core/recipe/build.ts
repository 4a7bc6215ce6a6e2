import { LRUCache } from 'lru-cache';

import { offsetPlane, type Kernel, type Shape, type WorkPlane } from '#core/kernel';
import type { Named } from '#core/outline';
import { attempt, ProblemError, unwrap, type Result, type Problem } from '#core/problem';
import { evaluateParameters, namesIn, type Scope } from '#core/quantity';
import type { Axis, Edge, Face } from '#core/solid';
import { boxUnion, type Box } from '#core/vector';

import type { Context, Outcome, Part, Thread } from './context.ts';
import type { AxisReference, PlaneReference } from './entries.ts';
import { operationOf, type Step } from './operations/index.ts';
import { axisOfSurface, baseAxis, basePlane, planeOn } from './planes.ts';
import type { Recipe } from './schema.ts';
import type { NamedSurface } from './surfaces.ts';
import { StepValues, withValues, type ParameterValues } from './values.ts';

/** Surfaces by step and role, in mm. A name stays when values change; not every one survives the later steps. */
export type NamedSurfaces = ReadonlyMap<string, NamedSurface>;

/** What a recipe builds. The owner frees `shape`. */
export interface Built {
  readonly shape: Shape;
  readonly surfaces: NamedSurfaces;
  /** Values of the parameters in the drawing unit. */
  readonly scope: Scope;
  readonly threads: readonly Thread[];
}

/** A part that could not be finished: the step that failed, and what was built before it. */
export interface Unfinished {
  readonly stepId: string;
  readonly problem: Problem;
}

interface Made {
  readonly parts: readonly Part[];
  readonly surfaces: readonly Named[];
}

/** The part after a step. Tools that wait are joined or cut in one operation when the body is needed. */
interface State {
  readonly body: Shape | null;
  readonly pending: readonly (Part & { readonly step: Step })[];
  readonly surfaces: NamedSurfaces;
  readonly planes: ReadonlyMap<string, WorkPlane>;
  readonly axes: ReadonlyMap<string, Axis>;
  readonly made: ReadonlyMap<string, Made>;
  readonly threads: readonly Thread[];
}

const EMPTY: State = {
  body: null,
  pending: [],
  surfaces: new Map(),
  planes: new Map(),
  axes: new Map(),
  made: new Map(),
  threads: [],
};

/** A step that waited to be joined or cut failed while a later one was built. */
class PendingStepError extends Error {
  readonly problem: ProblemError;
  constructor(problem: ProblemError) {
    super(problem.message);
    this.problem = problem;
  }
}

interface Tables {
  readonly faces: readonly Face[];
  readonly edges: readonly Edge[];
}

/** Parts after earlier builds that are kept for the next one. */
const MOST_STATES = 120;

/** A body that is there before the first step, with names for its surfaces. Its owner frees it after the builder. */
export interface Start {
  /** Not the same for any two starts of one builder. */
  readonly key: string;
  readonly body: Shape;
  readonly surfaces: NamedSurfaces;
}

/**
 * Builds recipes one after the other and keeps what the last ones had in common: only the steps from the first changed
 * one are built anew. Freeing it frees everything it keeps; shapes that were handed out stay with their owners.
 */
export class RecipeBuilder {
  private readonly kernel: Kernel;
  private readonly start: { readonly key: string; readonly state: State };
  private readonly states = new LRUCache<string, State>({ max: MOST_STATES });
  private readonly shapes = new Set<Shape>();
  private tablesOf = new WeakMap<Shape, Tables>();

  /** Recipes begin with nothing, or with the body of `start`. */
  constructor(kernel: Kernel, start: Start | null = null) {
    this.kernel = kernel;
    this.start =
      start === null
        ? { key: '', state: EMPTY }
        : { key: start.key, state: { ...EMPTY, body: start.body, surfaces: start.surfaces } };
  }

  /**
   * Builds a recipe, with other parameter values where given, up to and including the step `until`. Refuses with the
   * problem of the step that failed; its message begins with the name of the step.
   */
  build(recipe: Recipe, values: ParameterValues = {}, until?: string): Result<Built> {
    const built = this.buildFar(recipe, values, until);
    if (!built.ok) return built;
    const { unfinished, part } = built.value;
    if (unfinished === null && part !== null) return { ok: true, value: part };
    part?.shape.free();
    return { ok: false, problem: unfinished?.problem ?? { code: 'no-body', message: 'The recipe builds no body.' } };
  }

  /** As `build`, but a step that fails gives the part before it, for an editor that goes on showing it. */
  buildFar(
    recipe: Recipe,
    values: ParameterValues = {},
    until?: string,
  ): Result<{ readonly part: Built | null; readonly unfinished: Unfinished | null }> {
    return attempt(() => {
      const effective = unwrap(withValues(recipe, values));
      const scope = unwrap(evaluateParameters(effective.parameters, effective.unit));
      const last = until === undefined ? -1 : effective.steps.findIndex(({ id }) => id === until);
      const steps = effective.steps.slice(0, last < 0 ? undefined : last + 1).filter(({ off }) => off !== true);
      try {
        return this.run(steps, effective, scope, last < 0);
      } finally {
        this.sweep();
      }
    });
  }

  /** Frees everything that is kept. */
  free(): void {
    this.states.clear();
    this.sweep();
  }

  /** `whole`: these are all steps, so that the part must be one body after them. */
  private run(steps: readonly Step[], recipe: Recipe, scope: Scope, whole: boolean) {
    const values = new StepValues(scope, recipe.unit);
    const keys = keysOf(steps, scope, `${this.start.key}${recipe.unit}`);
    let begun = keys.length;
    while (begun > 0 && !this.states.has(keys[begun - 1] ?? '')) begun--;
    let state = begun === 0 ? this.start.state : this.recall(keys[begun - 1] ?? '');
    let unfinished: Unfinished | null = null;
    const failed = (step: Step, error: unknown): Unfinished => {
      if (!(error instanceof ProblemError)) throw error;
      const { code, message } = error.problem;
      return { stepId: step.id, problem: { code, message: `Step "${step.label ?? step.id}": ${message}` } };
    };
    // A state that is taken up again is settled first, so that its tools are not joined anew with every change.
    if (begun > 0 && begun < keys.length) state = this.evaluated(state, keys[begun - 1] ?? '');
    for (const [i, step] of steps.slice(begun).entries()) {
      try {
        state = this.apply(step, state, values);
        this.remember(keys[begun + i] ?? '', state);
      } catch (error) {
        if (error instanceof PendingStepError) {
          const [blamed, before] = this.blame(state, error.problem);
          unfinished = failed(blamed, before.error);
          state = before.state;
        } else unfinished = failed(step, error);
        break;
      }
    }
    while (state.pending.length > 0) {
      try {
        state = this.evaluated(state, unfinished === null ? (keys.at(-1) ?? '') : null);
      } catch (error) {
        const [blamed, before] = this.blame(state, error);
        unfinished = failed(blamed, before.error);
        state = before.state;
      }
    }
    const { body, surfaces, threads } = state;
    if (whole && unfinished === null && body !== null) {
      const bodies = this.kernel.bodyCount(body);
      const last = steps.findLast((step) => 'mode' in step && step.mode === 'add') ?? steps.at(-1);
      if (bodies > 1 && last !== undefined)
        unfinished = failed(
          last,
          new ProblemError('several-bodies', `In the end the part is in ${String(bodies)} bodies that do not touch.`),
        );
    }
    const part = body === null ? null : { shape: this.kernel.handle(body), surfaces, scope, threads };
    return { part, unfinished };
  }

  /** The first waiting step that cannot be joined or cut by itself, and the part before it. */
  private blame(state: State, error: unknown): [Step, { readonly error: unknown; readonly state: State }] {
    const [first, ...rest] = state.pending;
    if (first === undefined) throw error;
    let done: State = { ...state, pending: [] };
    let step: Step = first.step;
    for (const part of [first, ...rest]) {
      step = part.step;
      try {
        done = this.evaluated({ ...done, pending: [part] }, null);
      } catch (own) {
        return [step, { error: own, state: done }];
      }
    }
    return [step, { error, state: done }];
  }

  private recall(key: string): State {
    return this.states.get(key) ?? EMPTY;
  }

  private remember(key: string, state: State): void {
    this.states.set(key, state);
  }

  /** Frees the shapes that no kept state needs any more. */
  private sweep(): void {
    const needed = new Set<Shape>();
    for (const state of this.states.values()) {
      if (state.body !== null) needed.add(state.body);
      for (const { tools } of state.pending) for (const tool of tools) needed.add(tool);
      for (const { parts } of state.made.values())
        for (const { tools } of parts) for (const tool of tools) needed.add(tool);
    }
    for (const shape of this.shapes)
      if (!needed.has(shape)) {
        shape.free();
        this.shapes.delete(shape);
      }
  }

  private readonly keep = (shape: Shape): Shape => {
    this.shapes.add(shape);
    return shape;
  };

  /** The state with nothing waiting; kept under its key, where it has one. */
  private evaluated(state: State, key: string | null): State {
    let { body } = state;
    const runs: { mode: Part['mode']; tools: Shape[] }[] = [];
    for (const { mode, tools } of state.pending) {
      const last = runs.at(-1);
      if (last?.mode === mode) last.tools.push(...tools);
      else runs.push({ mode, tools: [...tools] });
    }
    for (const { mode, tools } of runs) body = this.combined(body, mode, tools);
    const evaluated = { ...state, body, pending: [] };
    if (key !== null) this.remember(key, evaluated);
    return evaluated;
  }

  /** As `settled`; what fails is not the step that needs the body, but one that waits. */
  private evaluatedBefore(state: State): State {
    try {
      return this.evaluated(state, null);
    } catch (error) {
      throw error instanceof ProblemError ? new PendingStepError(error) : error;
    }
  }

  private combined(body: Shape | null, mode: Part['mode'], tools: readonly Shape[]): Shape {
    const [first, ...rest] = tools;
    if (first === undefined) {
      if (body === null) throw new ProblemError('no-body', 'This step adds nothing.');
      return body;
    }
    if (body === null && mode === 'cut') throw new ProblemError('nothing-to-cut', 'There is no body yet to cut from.');
    const joined =
      body === null
        ? rest.length === 0
          ? first
          : this.keep(this.kernel.fuse(first, rest))
        : this.keep(mode === 'add' ? this.kernel.fuse(body, tools) : this.kernel.cut(body, tools));
    const bodies = this.kernel.bodyCount(joined);
    if (bodies === 0) throw new ProblemError('nothing-left', 'This cut removes the whole body.');
    // What is added may be joined by a later step; what a cut parts stays apart.
    if (mode === 'cut' && body !== null && bodies > this.kernel.bodyCount(body))
      throw new ProblemError('several-bodies', `After this step the part falls into ${String(bodies)} bodies.`);
    return joined;
  }

  private apply(step: Step, before: State, values: StepValues): State {
    let state = before;
    const context: Context = {
      kernel: this.kernel,
      values,
      keep: this.keep,
      surface: (name) => surfaceOf(state, name),
      surfaces: () => state.surfaces,
      plane: (reference) => planeOf(state, reference, values),
      axis: (reference) => axisFrom(state, reference),
      body: () => {
        state = this.evaluatedBefore(state);
        if (state.body === null) throw new ProblemError('nothing-to-cut', 'There is no body yet.');
        return state.body;
      },
      tables: (body) => {
        const known = this.tablesOf.get(body) ?? this.kernel.tables(body);
        this.tablesOf.set(body, known);
        return known;
      },
      reach: (on) => {
        // What waits to be cut only makes the part smaller; what waits to be added counts.
        const grows = state.pending.some(({ mode }) => mode === 'add');
        return this.kernel.reach(grows || state.body === null ? context.body() : state.body, on);
      },
      made: (stepId) => madeBy(state, stepId),
    };
    const outcome = operationOf(step.op).build(step, context);
    return after(step, outcome, { state, kernel: this.kernel });
  }
}

/** The state after an outcome. */
function after(
  step: Step,
  outcome: Outcome,
  { state, kernel }: { readonly state: State; readonly kernel: Kernel },
): State {
  const named = (surfaces: readonly Named[], within?: Box): NamedSurfaces =>
    new Map([
      ...state.surfaces,
      ...surfaces.map(([role, surface]): [string, NamedSurface] => [
        `${step.id}.${role}`,
        within === undefined ? surface : { ...surface, within },
      ]),
    ]);
  switch (outcome.kind) {
    case 'parts': {
      if (state.body === null && state.pending.length === 0 && outcome.parts[0]?.mode === 'cut')
        throw new ProblemError('nothing-to-cut', 'There is no body yet to cut from.');
      return {
        ...state,
        pending: [...state.pending, ...outcome.parts.map((part) => ({ ...part, step }))],
        surfaces: named(outcome.surfaces, boxOfAll(outcome.parts, kernel)),
        made: new Map(state.made).set(step.id, { parts: outcome.parts, surfaces: outcome.surfaces }),
        threads: [...state.threads, ...(outcome.threads ?? [])],
      };
    }
    case 'body':
      return { ...state, body: outcome.body, pending: [], surfaces: named(outcome.surfaces) };
    case 'plane':
      return { ...state, planes: new Map(state.planes).set(step.id, outcome.plane) };
    case 'axis':
      return { ...state, axes: new Map(state.axes).set(step.id, outcome.axis) };
    case 'thread':
      return { ...state, threads: [...state.threads, outcome.thread] };
  }
}

/** The box around all that a step adds or cuts, mm. */
const boxOfAll = (parts: readonly Part[], kernel: Kernel): Box | undefined =>
  parts
    .flatMap(({ tools }) => tools.map((tool) => kernel.bounds(tool)))
    .reduce<Box | undefined>((all, box) => (all === undefined ? box : boxUnion(all, box)), undefined);

function surfaceOf({ surfaces }: State, name: string): NamedSurface {
  const surface = surfaces.get(name);
  if (surface !== undefined) return surface;
  const step = name.split('.')[0] ?? '';
  const near = [...surfaces.keys()].filter((known) => known.startsWith(`${step}.`)).slice(0, 8);
  throw new ProblemError(
    'unknown-surface',
    `There is no surface "${name}".${near.length > 0 ? ` That step has ${near.join(', ')}.` : ' No step before this one has that name and makes surfaces.'}`,
  );
}

function planeOf(state: State, reference: PlaneReference, values: StepValues): WorkPlane {
  const at = (): WorkPlane => {
    if ('base' in reference) return basePlane(reference.base);
    if ('surface' in reference) return planeOn(surfaceOf(state, reference.surface), reference.surface);
    const made = state.planes.get(reference.plane);
    if (made !== undefined) return made;
    throw new ProblemError(
      'unknown-plane',
      `There is no plane "${reference.plane}"; earlier steps made ${[...state.planes.keys()].join(', ') || 'none'}.`,
    );
  };
  return reference.offset === undefined ? at() : offsetPlane(at(), values.lengthMm(reference.offset, 'plane offset'));
}

function axisFrom(state: State, reference: AxisReference): Axis {
  if ('base' in reference) return baseAxis(reference.base);
  if ('surface' in reference) return axisOfSurface(surfaceOf(state, reference.surface), reference.surface);
  const made = state.axes.get(reference.axis);
  if (made !== undefined) return made;
  throw new ProblemError(
    'unknown-axis',
    `There is no axis "${reference.axis}"; earlier steps made ${[...state.axes.keys()].join(', ') || 'none'}.`,
  );
}

function madeBy({ made }: State, stepId: string): Made {
  const found = made.get(stepId);
  if (found !== undefined) return found;
  throw new ProblemError(
    'cannot-copy',
    `"${stepId}" cannot be copied: only earlier steps that add or cut can. Fillet and chamfer the copies afterwards. Steps that can be copied: ${[...made.keys()].join(', ') || 'none'}.`,
  );
}

/** For each step a text that is the same when it and all before it give the same part. */
function keysOf(steps: readonly Step[], scope: Scope, first: string): readonly string[] {
  let key = first;
  return steps.map((step) => {
    const text = JSON.stringify({ ...step, label: undefined });
    const used = [...new Set(stringsIn(step).flatMap(namesIn))].filter((name) => Object.hasOwn(scope, name));
    key = `${key}\n${text}${used.map((name) => ` ${name}=${String(scope[name])}`).join('')}`;
    return key;
  });
}

/** Every text within a value: of steps, their expressions among them. */
export function stringsIn(value: unknown): string[] {
  if (typeof value === 'string') return [value];
  if (typeof value !== 'object' || value === null) return [];
  return Object.values(value).flatMap(stringsIn);
}

/**
 * Builds a recipe once, with other parameter values where given. Refuses with the problem of the step that failed; its
 * message begins with the name of the step. The caller frees the shape.
 */
export function buildRecipe(kernel: Kernel, recipe: Recipe, values: ParameterValues = {}): Result<Built> {
  const builder = new RecipeBuilder(kernel);
  try {
    return builder.build(recipe, values);
  } finally {
    builder.free();
  }
}
