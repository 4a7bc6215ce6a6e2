/** The worker that builds parts for the editor: one kernel, one builder that keeps what did not change. */
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { evaluateOutline } from '#core/outline';
import { evaluatePlan, slightChanges, suggestPlan, type PlanBasis } from '#core/plan';
import { attempt, refuse, unwrap, type Result } from '#core/problem';
import { evaluateParameters } from '#core/quantity';
import { facesOn, RecipeBuilder, StepValues, threadLines, type ParameterValues } from '#core/recipe';
import { forDisplay } from '#core/solid';
import { answerKey, generateVariants, judgeVariants } from '#core/variant';
import { boxSize } from '#core/vector';

import { loadKernel } from './kernel.ts';
import type { Answers, BuiltAnswer, FromWorkshop, Request, RequestKind, ToWorkshop } from './protocol.ts';

const post = (message: FromWorkshop): void => {
  postMessage(message);
};

class Workshop {
  private readonly kernel: Kernel;
  private readonly builder: RecipeBuilder;
  /** The part that was analyzed last. */
  private analyzed: { readonly key: string; readonly part: Omit<PlanBasis, 'exercise'> } | null = null;
  constructor(kernel: Kernel) {
    this.kernel = kernel;
    this.builder = new RecipeBuilder(kernel);
  }

  explain(error: unknown): string | null {
    return this.kernel.explain(error);
  }

  answer(request: Request, progress: (done: number, total: number) => void): Result<Answers[RequestKind]> {
    switch (request.kind) {
      case 'build':
        return this.build(request);
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
        return attempt(() => evaluatePlan(this.basis(request.exercise)));
      case 'suggest':
        return attempt(() => {
          const basis = this.basis(request.exercise);
          const others = slightChanges(request.exercise.recipe, basis.scope).flatMap((tries) => {
            for (const values of tries) {
              const other = attempt(() => this.basis(request.exercise, values));
              if (other.ok) return [other.value];
            }
            return [];
          });
          return suggestPlan(basis, others);
        });
      case 'judge': {
        const total = request.exercise.variants.length;
        return attempt(() =>
          judgeVariants(this.kernel, this.builder, request.exercise, undefined, (done) => {
            progress(done, total);
          }),
        );
      }
      case 'generate':
        return generateVariants(
          this.kernel,
          this.builder,
          request.exercise,
          request.ranges,
          request.wanted,
          request.seed,
          (found) => {
            progress(found, request.wanted);
          },
        );
      case 'key':
        return attempt(() => answerKey(this.kernel, this.builder, request.exercise));
    }
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
        const namesOfFace = faces.map((): string[] => []);
        for (const [name, surface] of part.surfaces)
          for (const id of facesOn(faces, surface)) namesOfFace[id]?.push(name);
        const threads = threadLines(part.threads, faces, edges, properties.centroidMm);
        const shown = forDisplay(mesh);
        return {
          part: {
            model: { bounds, mesh: { ...shown, edges: [...shown.edges, ...threads] } },
            properties,
            sizeMm: boxSize(bounds),
            namesOfFace,
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

  /** The analyzed part; a plan that changes does not analyze it anew. Raises the problem of a recipe that cannot be built. */
  private basis(exercise: Exercise, values: ParameterValues = {}): PlanBasis {
    const key = JSON.stringify([exercise.recipe, values]);
    if (this.analyzed?.key === key) return { ...this.analyzed.part, exercise };
    const { shape, surfaces, scope } = unwrap(this.builder.build(exercise.recipe, values));
    try {
      const source = {
        format: 'recipe',
        declaredUnit: exercise.recipe.unit,
        productName: exercise.title,
        originatingSystem: null,
      } as const;
      const part = { solid: unwrap(this.kernel.analyze(shape, source)), surfaces, scope };
      this.analyzed = { key, part };
      return { ...part, exercise };
    } finally {
      shape.free();
    }
  }
}

const started = loadKernel().then((kernel) => {
  post({ kind: 'ready' });
  return new Workshop(kernel);
});

async function serve({ id, request }: ToWorkshop): Promise<void> {
  try {
    const workshop = await started;
    try {
      const result = workshop.answer(request, (done, total) => {
        post({ kind: 'progress', id, done, total });
      });
      post({ kind: 'answer', id, result });
    } catch (error) {
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
