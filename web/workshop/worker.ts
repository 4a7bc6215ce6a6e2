/** The worker that builds parts for the editor: one kernel, one builder that keeps what did not change. */
import { LRUCache } from 'lru-cache';

import { analyzeSheet, derivedSizes } from '#core/chain';
import { facesOfTarget, prepareReference } from '#core/check';
import { completedPlan, DeterminacyStudy, openSizesOf } from '#core/determinacy';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import { FEATURE_KINDS, featuresOf } from '#core/feature';
import type { Kernel } from '#core/kernel';
import { readModel, withPart, type ReferencePart } from '#core/model';
import { evaluateOutline } from '#core/outline';
import { evaluateStages, withSlightChanges, soundChecks, suggestStages, type PlanBasis } from '#core/plan';
import { attempt, ProblemError, refuse, unwrap, type Result } from '#core/problem';
import { evaluateParameters } from '#core/quantity';
import {
  facesOn,
  RecipeBuilder,
  StepValues,
  threadLines,
  type NamedSurfaces,
  type ParameterValues,
  type Recipe,
} from '#core/recipe';
import { drawSheet, suggestViews, type SheetSource } from '#core/sheet';
import { forDisplay, type Face, type Solid } from '#core/solid';
import { answerKey, generateVariants, judgeVariants } from '#core/variant';
import { boxSize } from '#core/vector';

import { loadKernel } from './kernel.ts';
import type {
  Answers,
  BuiltAnswer,
  FromWorkshop,
  InspectAnswer,
  ReadAnswer,
  Request,
  RequestKind,
  SheetAnswer,
  ToWorkshop,
} from './protocol.ts';

const post = (message: FromWorkshop): void => {
  postMessage(message);
};

/** Analyzed parts that are kept: one for each stage, and one more. */
const MOST_ANALYZED = 6;

class Workshop {
  private readonly kernel: Kernel;
  private readonly builder: RecipeBuilder;
  /** The parts that were analyzed last. */
  private readonly analyzed = new LRUCache<string, Omit<PlanBasis, 'exercise'>>({ max: MOST_ANALYZED });
  /** Views of one part that were projected. */
  private views: { readonly key: string; readonly made: Map<string, unknown> } = { key: '', made: new Map() };
  /** The model file that was fetched last. */
  private model: { readonly url: string; readonly bytes: Uint8Array } | null = null;
  private study: { readonly key: string; readonly study: DeterminacyStudy } | null = null;
  constructor(kernel: Kernel) {
    this.kernel = kernel;
    this.builder = new RecipeBuilder(kernel);
  }

  explain(error: unknown): string | null {
    return this.kernel.explain(error);
  }

  /** Has the model file at hand before a request is answered. Refuses with `no-model`. */
  async fetchModel(url: string | null): Promise<void> {
    if (url === null || this.model?.url === url) return;
    const response = await fetch(url);
    if (!response.ok) throw new ProblemError('no-model', 'The model file is not at hand. Upload it again.');
    this.model = { url, bytes: new Uint8Array(await response.arrayBuffer()) };
  }

  answer(request: Request, progress: (done: number, total: number) => void): Result<Answers[RequestKind]> {
    switch (request.kind) {
      case 'build':
        return this.build(request);
      case 'export':
        return this.export(request.recipe);
      case 'read':
        return this.read(request.exercise);
      case 'inspect':
        return this.inspect(request);
      case 'outline':
        return attempt(() => {
          const { recipe, outline } = request;
          const scope = unwrap(evaluateParameters(recipe.parameters, recipe.unit));
          const regions = evaluateOutline(outline, new StepValues(scope, recipe.unit), this.kernel);
          return {
            loops: regions.flatMap(({ outer, holes }) => [
              { loop: outer, hole: false },
              ...holes.map((loop) => ({ loop, hole: true })),
            ]),
          };
        });
      case 'plan':
        return attempt(() => evaluateStages(request.exercise, (exercise) => this.basis(exercise)));
      case 'sheet':
        return this.sheet(request.exercise);
      case 'suggest':
        return attempt(() =>
          suggestStages(
            request.exercise,
            (exercise) => this.basis(exercise),
            (exercise, { scope }) =>
              withSlightChanges(exercise.recipe, scope, (values) => {
                const other = attempt(() => this.basis(exercise, values));
                return other.ok ? other.value : null;
              }),
          ),
        );
      case 'determine':
        return attempt(() => openSizesOf(...this.studied(request.exercise, progress)));
      case 'complete':
        return attempt(() => completedPlan(...this.studied(request.exercise, progress)).checks);
      case 'views':
        return attempt(() => suggestViews(this.sheetSource(exerciseOfStage(request.exercise, 1))));
      case 'judge': {
        const total = request.exercise.variants.length;
        return attempt(() =>
          judgeVariants(this.kernel, this.builder, request.exercise, {
            onProgress: (done) => {
              progress(done, total);
            },
          }),
        );
      }
      case 'generate':
        return generateVariants(this.kernel, this.builder, request.exercise, {
          ranges: request.ranges,
          wanted: request.wanted,
          seed: request.seed,
          onProgress: (found) => {
            progress(found, request.wanted);
          },
        });
      case 'key':
        return attempt(() => answerKey(this.kernel, this.builder, request.exercise, this.model?.bytes));
    }
  }

  private export(recipe: Recipe): Result<Uint8Array> {
    const built = this.builder.build(recipe);
    if (!built.ok) return built;
    const { shape } = built.value;
    return attempt(() => {
      try {
        return this.kernel.writeStep(shape, recipe.unit, recipe.name);
      } finally {
        shape.free();
      }
    });
  }

  private build({ recipe, until }: Extract<Request, { kind: 'build' }>): Result<BuiltAnswer> {
    const start = performance.now();
    const built = this.builder.buildFar(recipe, {}, until ?? undefined);
    if (!built.ok) return built;
    const { part, unfinished } = built.value;
    if (part === null) return { ok: true, value: { part: null, unfinished, durationMs: performance.now() - start } };
    return attempt(() => {
      try {
        const { faces, edges, mesh, properties, bounds } = this.kernel.preview(part.shape);
        const threads = threadLines(part.threads, faces, edges, properties.centroidMm);
        const shown = forDisplay(mesh);
        return {
          part: {
            model: { bounds, mesh: { ...shown, edges: [...shown.edges, ...threads] } },
            properties,
            sizeMm: boxSize(bounds),
            namesOfFace: namesOfFaces(faces, part.surfaces),
            threads: part.threads,
          },
          unfinished,
          durationMs: performance.now() - start,
        };
      } finally {
        part.shape.free();
      }
    });
  }

  /** Draws the sheet; views that were projected before are not projected anew. */
  private sheet(document: Exercise): Result<SheetAnswer> {
    const start = performance.now();
    return attempt(() => {
      const source = this.sheetSource(exerciseOfStage(document, 1));
      const { exercise: sound, reference } = source;
      const sheet = drawSheet(source);
      return {
        sheet,
        findings: analyzeSheet(sound, reference),
        derived: derivedSizes(sound, reference),
        facesOf: Object.fromEntries(reference.targets.map((target) => [target.checkId, facesOfTarget(target)])),
        durationMs: performance.now() - start,
      };
    });
  }

  /** What a sheet is drawn from: checks that the part does not pass are left out. */
  private sheetSource(exercise: Exercise): SheetSource {
    const basis = this.basis(exercise);
    const { solid, surfaces, scope } = basis;
    const sound = { ...exercise, checks: soundChecks(basis).sound };
    const reference = unwrap(prepareReference(sound, solid, surfaces, scope));
    const key = JSON.stringify([exercise.recipe, exercise.model ?? null]);
    if (this.views.key !== key) this.views = { key, made: new Map() };
    const { made } = this.views;
    const remembered = <T>(what: string, make: () => T): T => {
      if (!made.has(what)) made.set(what, make());
      return made.get(what) as T;
    };
    const options = { model: this.model?.bytes, builder: this.builder };
    const opened = <T>(use: (part: ReferencePart) => T): T => withPart(this.kernel, exercise, options, use);
    const threads = remembered('threads', () => opened((part) => part.threads));
    const canCut = remembered('can cut', () => opened((part) => part.cut !== null));
    return {
      exercise: sound,
      reference,
      scope,
      threads,
      cut: canCut
        ? (view, cuts) =>
            remembered(JSON.stringify([view, cuts]), () =>
              opened((part) => part.cut?.(view, cuts) ?? { part: part.solid, cutFaceIds: [] }),
            )
        : null,
    };
  }

  private read(exercise: Exercise): Result<ReadAnswer> {
    const start = performance.now();
    return attempt(() => {
      const { solid, surfaces } = this.basis(exercise);
      const { estimate } = solid;
      return {
        part: {
          model: { bounds: solid.bounds, mesh: forDisplay(solid.mesh) },
          properties: {
            ...solid.massProperties,
            volumeMm3: estimate.volumeMm3,
            areaMm2: estimate.areaMm2,
            centroidMm: estimate.centroidMm,
          },
          sizeMm: boxSize(solid.bounds),
          namesOfFace: namesOfFaces(solid.faces, surfaces),
          threads: [],
        },
        source: solid.source,
        warnings: solid.warnings,
        features: countedFeatures(solid),
        durationMs: performance.now() - start,
      };
    });
  }

  /** A model file that is only measured: nothing of it is kept, and nothing is known of what it should be. */
  private inspect({ bytes, fileName, unit }: Extract<Request, { kind: 'inspect' }>): Result<InspectAnswer> {
    const start = performance.now();
    const read = readModel(this.kernel, bytes, { fileName, unit: unit ?? undefined });
    if (!read.ok) return read;
    const solid = read.value;
    return attempt(() => ({
      model: { bounds: solid.bounds, mesh: forDisplay(solid.mesh) },
      faces: solid.faces,
      edges: solid.edges,
      sizeMm: boxSize(solid.bounds),
      estimate: solid.estimate,
      bodies: solid.bodies,
      closed: solid.closed,
      source: solid.source,
      warnings: solid.warnings,
      features: countedFeatures(solid),
      durationMs: performance.now() - start,
    }));
  }

  /** The study of a part; the variations of one recipe are built once for all its plans. */
  private studied(
    document: Exercise,
    progress: (done: number, total: number) => void,
  ): readonly [DeterminacyStudy, PlanBasis] {
    const exercise = exerciseOfStage(document, 1);
    const basis = this.basis(exercise);
    const key = JSON.stringify(exercise.recipe);
    if (this.study?.key !== key) {
      this.study?.study.free();
      this.study = { key, study: new DeterminacyStudy(this.kernel, basis) };
    }
    const { study } = this.study;
    for (const [done, total] of study.build()) progress(done, total);
    return [study, basis];
  }

  /** The analyzed part; a plan that changes does not analyze it anew. Raises the problem of a part that cannot be had. */
  private basis(exercise: Exercise, values: ParameterValues = {}): PlanBasis {
    const key = JSON.stringify([exercise.recipe, exercise.model ?? null, values]);
    const known = this.analyzed.get(key);
    if (known !== undefined) return { ...known, exercise };
    const options = { values, model: this.model?.bytes, builder: this.builder };
    const part = withPart(this.kernel, exercise, options, ({ solid, surfaces, scope }) => ({ solid, surfaces, scope }));
    this.analyzed.set(key, part);
    return { ...part, exercise };
  }
}

/** Recognized features, each kind with its count and faces. */
const countedFeatures = (solid: Solid): ReadAnswer['features'] =>
  FEATURE_KINDS.flatMap((kind) => {
    const found = featuresOf(solid, kind);
    return found.length === 0 ? [] : [{ kind, count: found.length, faceIds: found.flatMap(({ faceIds }) => faceIds) }];
  });

function namesOfFaces(faces: readonly Face[], surfaces: NamedSurfaces): readonly (readonly string[])[] {
  const names = faces.map((): string[] => []);
  for (const [name, surface] of surfaces) for (const id of facesOn(faces, surface)) names[id]?.push(name);
  return names;
}

const started = loadKernel().then((kernel) => {
  post({ kind: 'ready' });
  return new Workshop(kernel);
});

async function serve({ id, request, modelUrl }: ToWorkshop): Promise<void> {
  try {
    const workshop = await started;
    try {
      await workshop.fetchModel(modelUrl);
      const result = workshop.answer(request, (done, total) => {
        post({ kind: 'progress', id, done, total });
      });
      post({ kind: 'answer', id, result });
    } catch (error) {
      if (error instanceof ProblemError) {
        post({ kind: 'answer', id, result: { ok: false, problem: error.problem } });
        return;
      }
      const words = workshop.explain(error);
      if (words === null) throw error;
      post({ kind: 'answer', id, result: refuse('kernel', `The geometry kernel could not do this: ${words}.`) });
    }
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    post({ kind: 'broken', id, problem: { code: 'workshop-broken', message: `The preview stopped: ${message}.` } });
  }
}

addEventListener('message', (event: MessageEvent<ToWorkshop>) => {
  void serve(event.data);
});
