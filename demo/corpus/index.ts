/**
 * The correctness corpus: of each exercise, right submissions in many guises, and wrong ones with one thing altered. What
 * a wrong one must be told is known without any matching: the altered part is measured on its own named surfaces.
 */
import { gradeFile, prepareExercise } from '#core/attempt';
import { measureSubmission, prepareReference, type Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { findHoles } from '#core/feature';
import { gradeMeasurement, type Report } from '#core/grade';
import type { Kernel, Shape, WorkPlane } from '#core/kernel';
import { trianglesOf, write3mf, writeStl, type Triangles } from '#core/mesh';
import type { Overlayer } from '#core/overlay';
import { unwrap } from '#core/problem';
import { evaluateExpression, LENGTH_UNITS } from '#core/quantity';
import { buildRecipe, type ParameterValues, type Recipe, type Step, type StepOf } from '#core/recipe';
import { RECIPE_SOURCE } from '#core/solid';
import { boxCenter, distance, IDENTITY, type Mat3, type Vec3 } from '#core/vector';

export interface Verdict {
  readonly exercise: string;
  readonly name: string;
  readonly ok: boolean;
  /** What was wrong with the outcome, for people. */
  readonly fault: string;
}

interface Tools {
  readonly kernel: Kernel;
  readonly overlayer?: Overlayer | undefined;
}

/** Numbers between 0 and 1 that are the same in every run (Lehmer's generator). */
export function seeded(seed: number): () => number {
  let state = seed % 2147483647 || 1;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

const degrees = (angle: number): number => (angle * Math.PI) / 180;

/** Rotation about x by `a` and then about z by `b`. */
function rotation(a: number, b: number): Mat3 {
  const [ca, sa, cb, sb] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)];
  return [
    [cb, -sb * ca, sb * sa],
    [sb, cb * ca, -cb * sa],
    [0, sa, ca],
  ];
}

/** The exercise with the place of the part left free: the center of mass is judged in the frame of the part. */
const shapeOnly = (exercise: Exercise): Exercise => ({
  ...exercise,
  typedValues: [],
  checks: [...exercise.checks, { id: 'frame', kind: 'frame', label: 'Frame', weight: 0 }],
});

const asStl = (mesh: Triangles, unitMm = 1): Uint8Array => writeStl(mesh, unitMm);

/** Coordinates as programs print them: to decimals, or to digits that count. */
export const PRINTED = {
  'to three decimals': (x: number) => Number(x.toFixed(3)),
  'to six digits': (x: number) => Number(x.toPrecision(6)),
} as const;
const printed =
  (as: keyof typeof PRINTED) =>
  ({ positions, indices }: Triangles): Uint8Array =>
    asStl({ positions: positions.map(PRINTED[as]), indices });

function asObj({ positions, indices }: Triangles): Uint8Array {
  const lines: string[] = [];
  for (let i = 0; i < positions.length; i += 3)
    lines.push(`v ${[0, 1, 2].map((k) => (positions[i + k] ?? 0).toFixed(6)).join(' ')}`);
  for (let t = 0; t < indices.length; t += 3)
    lines.push(`f ${[0, 1, 2].map((k) => String((indices[t + k] ?? 0) + 1)).join(' ')}`);
  return new TextEncoder().encode(lines.join('\n'));
}

/** A right submission: bytes, and the name of the file. */
export interface Guise {
  readonly name: string;
  readonly fileName: string;
  readonly bytes: () => Uint8Array;
  /** Values of the parameters, for student and reference alike. */
  readonly values?: ParameterValues;
}

/** The right part as many students would hand it in. */
export function rightGuises({ kernel }: Tools, exercise: Exercise): Guise[] {
  const { unit } = exercise.recipe;
  const built = (values: ParameterValues = {}): Shape => unwrap(buildRecipe(kernel, exercise.recipe, values)).shape;
  const step =
    (change: (shape: Shape) => Shape, written = unit, product = exercise.title) =>
    (): Uint8Array => {
      const shape = built();
      const changed = change(shape);
      const bytes = kernel.writeStep(changed, written, product);
      changed.free();
      shape.free();
      return bytes;
    };
  const mesh = (write: (mesh: Triangles) => Uint8Array, toleranceMm: number, angleRad: number) => (): Uint8Array => {
    const shape = built();
    const bytes = write(trianglesOf(kernel.displayMesh(shape, { toleranceMm, angleRad })));
    shape.free();
    return bytes;
  };
  const move = (by: Mat3, to: Vec3) => (shape: Shape) => kernel.moved(shape, by, to);
  const stay = move(IDENTITY, [0, 0, 0]);
  const seam = (plane: WorkPlane) => (shape: Shape) => kernel.withSeam(shape, plane);
  const middle = (shape: Shape): Vec3 => boxCenter(unwrap(kernel.analyze(shape, RECIPE_SOURCE)).bounds);
  const across = (shape: Shape): Shape => {
    const origin = middle(shape);
    const first = seam({ origin, u: [0, 1, 0], v: [0, 0, 1], normal: [1, 0, 0] })(shape);
    const second = seam({ origin, u: [0, 0, 1], v: [1, 0, 0], normal: [0, 1, 0] })(first);
    first.free();
    return second;
  };
  const axes: readonly (readonly [string, Mat3])[] = [
    ['upright', rotation(degrees(90), 0)],
    ['on its side', rotation(0, degrees(90))],
    ['upside down', rotation(degrees(180), 0)],
    ['upright and turned', rotation(degrees(-90), degrees(180))],
  ];
  const other = unit === 'mm' ? 'in' : 'mm';
  const guises: Guise[] = [
    { name: 'as exported', fileName: 'part.step', bytes: step(stay) },
    { name: 'another name', fileName: 'xyz ünïcode.stp', bytes: step(stay, unit, 'Körper 1') },
    { name: `declared in ${other}, right size`, fileName: 'part.step', bytes: step(stay, other) },
    { name: 'moved', fileName: 'part.step', bytes: step(move(IDENTITY, [13.7, -41.25, 8.5])) },
    ...axes.map(([name, turn]) => ({ name, fileName: 'part.step', bytes: step(move(turn, [0, 0, 0])) })),
    {
      name: 'turned by odd angles',
      fileName: 'part.step',
      bytes: step(move(rotation(degrees(37), degrees(112)), [5, 9, -20])),
    },
    { name: 'faces split at the middle', fileName: 'part.step', bytes: step(across) },
    {
      name: 'read and written again',
      fileName: 'part.step',
      bytes: () => {
        const { shape } = unwrap(kernel.readStep(step(stay)()));
        const bytes = kernel.writeStep(shape, other, 'again');
        shape.free();
        return bytes;
      },
    },
    { name: 'STL, very fine', fileName: 'part.stl', bytes: mesh(asStl, 0.005, 0.05) },
    { name: 'STL, fine', fileName: 'part.stl', bytes: mesh(asStl, 0.01, 0.1) },
    { name: 'STL, usual', fileName: 'part.stl', bytes: mesh(asStl, 0.05, 0.3) },
    { name: 'STL, coarse', fileName: 'part.stl', bytes: mesh(asStl, 0.2, 0.5) },
    { name: 'STL in inches', fileName: 'part.stl', bytes: mesh((m) => asStl(m, LENGTH_UNITS.in), 0.05, 0.3) },
    { name: 'STL to three decimals', fileName: 'part.stl', bytes: mesh(printed('to three decimals'), 0.05, 0.3) },
    { name: 'STL to six digits', fileName: 'part.stl', bytes: mesh(printed('to six digits'), 0.2, 0.5) },
    { name: '3MF', fileName: 'part.3mf', bytes: mesh((m) => write3mf([m], 'part'), 0.05, 0.3) },
    { name: 'OBJ', fileName: 'part.obj', bytes: mesh(asObj, 0.05, 0.3) },
    {
      name: 'STL turned by odd angles',
      fileName: 'part.stl',
      bytes: () => {
        const shape = built();
        const turned = kernel.moved(shape, rotation(degrees(-21), degrees(64)), [3, 1, 4]);
        const bytes = asStl(trianglesOf(kernel.displayMesh(turned)));
        turned.free();
        shape.free();
        return bytes;
      },
    },
  ];
  const letters = exercise.recipe.parameters.filter(({ value }) => Number.isFinite(Number(value)));
  for (const factor of [1.04, 1.09]) {
    const values = Object.fromEntries(letters.map(({ name, value }) => [name, String(Number(value) * factor)]));
    guises.push({
      name: `letters x ${String(factor)}`,
      fileName: 'part.step',
      values,
      bytes: () => {
        const shape = built(values);
        const bytes = kernel.writeStep(shape, unit, exercise.title);
        shape.free();
        return bytes;
      },
    });
  }
  return guises;
}

/** Grades every right guise; each must get full marks, no cause and no overlay. */
export function judgeRight(tools: Tools, exercise: Exercise, guises = rightGuises(tools, exercise)): Verdict[] {
  const { kernel, overlayer } = tools;
  const free = shapeOnly(exercise);
  const references = new Map<string, Reference>();
  const referenceOf = (values: ParameterValues): Reference => {
    const key = JSON.stringify(values);
    const reference = references.get(key) ?? unwrap(prepareExercise(kernel, free, { values })).reference;
    references.set(key, reference);
    return reference;
  };
  return guises.map(({ name, fileName, bytes, values = {} }): Verdict => {
    const reference = referenceOf(values);
    const graded = gradeFile(kernel, reference, { bytes: bytes(), policy: free.scoring }, { fileName, overlayer });
    const fault = !graded.ok
      ? graded.problem.message
      : [
          ...graded.value.report.lines
            .filter((line) => line.verdict !== 'right' && line.weight > 0)
            .map((line) => `${line.checkId} ${String(line.measured)} for ${String(line.nominal)}`),
          ...graded.value.report.causes.filter(({ id }) => !isAboutFrame(id)).map(({ message }) => `cause: ${message}`),
          ...(graded.value.report.overlay?.pieces ?? []).map(
            (piece) => `${piece.kind} ${piece.volumeMm3.toFixed(2)} mm3`,
          ),
        ].join('; ');
    return { exercise: exercise.title, name, ok: fault === '', fault };
  });
}

/** Causes that a part on another place or plane earns even where only its shape counts. */
const isAboutFrame = (id: string): boolean => id === 'shifted-origin' || id === 'wrong-plane';

/** A wrong submission: the recipe as the student built it. */
export interface Alteration {
  readonly name: string;
  readonly recipe: Recipe;
  /** Steps that are gone: what hangs on their surfaces is missing. */
  readonly without?: string;
  /** Holes that are more than before; where the new one runs into another feature, it proves nothing and is left out. */
  readonly holes?: number;
}

type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };

/** Keys of a step whose expressions are sizes; points are places. */
const SIZES = new Set(['width', 'height', 'diameter', 'depth', 'length', 'radius', 'size', 'offset']);
const PLACES = new Set(['center', 'points', 'start', 'to', 'through']);

/** Every expression of a value, with the same value where it is altered. */
function* altered(
  value: Json,
  key: string,
  change: (expression: string, key: string) => string | null,
): Generator<{ readonly value: Json; readonly what: string }> {
  if (typeof value === 'string') {
    const changed = change(value, key);
    if (changed !== null) yield { value: changed, what: value };
  } else if (Array.isArray(value)) {
    for (const [i, item] of (value as readonly Json[]).entries())
      for (const inner of altered(item, key, change))
        yield {
          value: (value as readonly Json[]).map((other, j) => (i === j ? inner.value : other)),
          what: inner.what,
        };
  } else if (typeof value === 'object' && value !== null) {
    const entries = value as Readonly<Record<string, Json>>;
    for (const [name, item] of Object.entries(entries))
      for (const inner of altered(item, PLACES.has(key) ? key : name, change))
        yield { value: { ...entries, [name]: inner.value }, what: inner.what };
  }
}

/** All single alterations of a recipe: letters, sizes, places, steps left out, holes doubled. */
export function alterations(exercise: Exercise, seed = 1): Alteration[] {
  const { recipe } = exercise;
  const random = seeded(seed);
  const factor = (): number => (random() < 0.5 ? 1.03 : 0.97) + (random() - 0.5) * 0.02;
  const shift = (): number => (recipe.unit === 'mm' ? 1.3 : 0.05) * (random() < 0.5 ? 1 : -1);
  const found: Alteration[] = recipe.parameters.map(({ name, value }) => ({
    name: `letter ${name}`,
    recipe: {
      ...recipe,
      parameters: recipe.parameters.map((parameter) =>
        parameter.name === name ? { ...parameter, value: `(${value})*${factor().toFixed(4)}` } : parameter,
      ),
    },
  }));
  const replace = (id: string, step: Step | null): Recipe => ({
    ...recipe,
    steps: recipe.steps.flatMap((other) => (other.id === id ? (step ?? []) : other)),
  });
  for (const step of recipe.steps) {
    const change = (expression: string, key: string): string | null => {
      if (!evaluateExpression(expression, { A: 1, B: 1, C: 1, D: 1, E: 1 }, recipe.unit).ok) return null;
      if (SIZES.has(key)) return `(${expression})*${factor().toFixed(4)}`;
      return PLACES.has(key) ? `(${expression}) + ${shift().toFixed(4)}` : null;
    };
    for (const { value, what } of altered(step as unknown as Json, '', change))
      found.push({ name: `${step.id}: ${what}`, recipe: replace(step.id, value as unknown as Step) });
    found.push({ name: `without ${step.id}`, recipe: replace(step.id, null), without: step.id });
    if (step.op === 'hole' && step.at.kind === 'points') {
      const [u, v] = step.at.points[0] ?? ['0', '0'];
      for (const [name, place] of [
        ['once more', [`(${u})*0.15`, `(${v})*0.9`]],
        ['once more elsewhere', [`(${u})*0.75`, `(${v})*0.5 + ${recipe.unit === 'mm' ? '4' : '0.3'}`]],
      ] as const) {
        const twice: Step = { ...step, id: `${step.id}-twice`, at: { kind: 'points', points: [place] } };
        const steps = recipe.steps.flatMap((other) => (other.id === step.id ? [other, twice] : [other]));
        found.push({ name: `${step.id} ${name}`, recipe: { ...recipe, steps }, holes: 1 });
      }
    }
  }
  return found;
}

/** Steps of several like holes of which the last has one size that is larger: what the sheet writes once for all of them. */
export function oneOfMany({ recipe }: Exercise): Alteration[] {
  return recipe.steps.flatMap((step): Alteration[] => {
    if (step.op !== 'hole' || step.at.kind !== 'points' || step.at.points.length < 2) return [];
    const last = step.at.points.at(-1);
    if (last === undefined) return [];
    const others: Step = { ...step, at: { kind: 'points', points: step.at.points.slice(0, -1) } };
    const one: Step = { ...step, id: `${step.id}-last`, at: { kind: 'points', points: [last] } };
    const larger = (expression: string, key: string): string | null => (SIZES.has(key) ? `(${expression})*1.06` : null);
    return [...altered(one as unknown as Json, '', larger)].map(({ value, what }) => ({
      name: `${step.id}, last one: ${what}`,
      recipe: {
        ...recipe,
        steps: recipe.steps.flatMap((other) => (other.id === step.id ? [others, value as unknown as Step] : [other])),
      },
    }));
  });
}

export interface WrongOutcome {
  readonly verdicts: readonly Verdict[];
  /** Alterations that cannot be built. */
  readonly unbuilt: number;
}

/** Grades every alteration; exactly the checks must fail that the altered part itself fails. */
export function judgeWrong(tools: Tools, exercise: Exercise, list = alterations(exercise)): WrongOutcome {
  const { kernel } = tools;
  const free = shapeOnly(exercise);
  const { reference } = unwrap(prepareExercise(kernel, free));
  let unbuilt = 0;
  const verdicts = list.flatMap((alteration): Verdict[] => {
    const built = buildRecipe(kernel, alteration.recipe);
    if (!built.ok) {
      unbuilt++;
      return [];
    }
    const { shape } = built.value;
    const bytes = kernel.writeStep(shape, exercise.recipe.unit, exercise.title);
    const expected = truth(kernel, free, { reference, alteration, built: built.value });
    shape.free();
    if (expected === null) {
      unbuilt++;
      return [];
    }
    const graded = gradeFile(kernel, reference, { bytes, policy: free.scoring });
    const faults = graded.ok ? differences(expected, graded.value.report) : [graded.problem.message];
    return [{ exercise: exercise.title, name: alteration.name, ok: faults.length === 0, fault: faults.join('; ') }];
  });
  return { verdicts, unbuilt };
}

const isRight = (line: { readonly verdict: string }): boolean => line.verdict === 'right';

function differences(expected: ReadonlyMap<string, boolean>, report: Report): string[] {
  return report.lines
    .filter((line) => line.weight > 0)
    .flatMap((line) => {
      const wanted = expected.get(line.checkId);
      // Where the part was laid anew onto the reference, its center has no place of its own to be compared with.
      if (line.kind === 'center-of-mass' && report.frame.kind !== 'as-modeled') return [];
      if (wanted === undefined || wanted === isRight(line)) return [];
      return [
        `${line.checkId} is called ${line.verdict} (${String(line.measured)} for ${String(line.nominal)}), is ${wanted ? 'right' : 'wrong'}`,
      ];
    });
}

/**
 * Whether each check is right on the altered part, told by the part's own surface names: the alteration is prepared as a
 * reference of its own, measured on itself, and its values are held against the nominals of the exercise.
 */
function truth(
  kernel: Kernel,
  exercise: Exercise,
  {
    reference,
    alteration: { recipe, without, holes },
    built,
  }: {
    readonly reference: Reference;
    readonly alteration: Alteration;
    readonly built: {
      readonly shape: Shape;
      readonly surfaces: Parameters<typeof prepareReference>[2];
      readonly scope: Parameters<typeof prepareReference>[3];
    };
  },
): Map<string, boolean> | null {
  const solid = kernel.analyze(built.shape, RECIPE_SOURCE);
  // What the kernel cannot build soundly, such as walls that only graze each other, is no student's part.
  if (!solid.ok || solid.value.bodies !== 1 || !solid.value.valid) return null;
  if (holes !== undefined && findHoles(solid.value).length !== findHoles(reference.solid).length + holes) return null;
  const expected = new Map<string, boolean>();
  const kept = exercise.checks.filter((check) => {
    const names = JSON.stringify(check);
    const gone = without !== undefined && new RegExp(`"${without}\\.`).test(names);
    if (gone) expected.set(check.id, false);
    return !gone;
  });
  const own = prepareReference({ ...exercise, recipe, checks: kept }, solid.value, built.surfaces, built.scope);
  if (!own.ok) return null;
  const measured = measureSubmission(own.value, solid.value);
  const checks = measured.checks.map((check) => {
    const target = reference.targets.find(({ checkId }) => checkId === check.checkId);
    // The distance of the center of mass is that from the right one.
    return target?.kind === 'center-of-mass' && check.point
      ? { ...check, measured: distance(check.point, target.nominalPoint) }
      : check;
  });
  const report = gradeMeasurement(reference, { ...measured, checks }, { typed: [], policy: exercise.scoring });
  for (const line of report.lines) if (!expected.has(line.checkId)) expected.set(line.checkId, isRight(line));
  // How many holes there are is not told by measuring the altered part against itself.
  for (const check of exercise.checks)
    if (check.kind === 'hole-count') {
      const target = reference.targets.find(({ checkId }) => checkId === check.id);
      const size = target?.kind === 'hole-count' ? target.diameterMm : 0;
      const step = check.like.split('.')[0] ?? '';
      const drilled = recipe.steps.filter(({ id }) => id === step || id === `${step}-twice`);
      const wanted = exercise.recipe.steps.filter(({ id }) => id === step);
      expected.set(check.id, size > 0 && countOf(drilled) === countOf(wanted));
    }
  return expected;
}

const countOf = (steps: readonly Step[]): number =>
  steps.reduce((sum, step) => (step.op === 'hole' ? sum + placesOf(step.at) : sum), 0);

function placesOf(at: StepOf<'hole'>['at']): number {
  switch (at.kind) {
    case 'points':
      return at.points.length;
    case 'bolt-circle':
      return Number(at.count) - (at.skip?.length ?? 0);
    case 'concentric':
      return at.with.length;
  }
}

/** The mirrored part: the wrong hand must be named where the part has one, and every size must still be right. */
export function judgeMirrored({ kernel }: Tools, exercise: Exercise): Verdict {
  const free = shapeOnly(exercise);
  const { reference } = unwrap(prepareExercise(kernel, free));
  const { shape } = unwrap(buildRecipe(kernel, exercise.recipe));
  const mirrored = kernel.moved(
    shape,
    [
      [-1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
    [0, 0, 0],
  );
  const bytes = kernel.writeStep(mirrored, exercise.recipe.unit, exercise.title);
  mirrored.free();
  shape.free();
  const graded = gradeFile(kernel, reference, { bytes, policy: free.scoring });
  const wrong = graded.ok
    ? graded.value.report.lines.filter((line) => !isRight(line) && line.weight > 0 && line.kind !== 'center-of-mass')
    : [];
  const fault = graded.ok ? wrong.map((line) => line.checkId).join(', ') : graded.problem.message;
  return { exercise: exercise.title, name: 'mirrored', ok: fault === '', fault };
}
