import { checkFromSurfaces, freeCheckId, usualTolerance, type Check, type CheckKind } from '#core/check';
import { circleCover, featuresOf, findHoles } from '#core/feature';
import type { PlanBasis } from '#core/plan';
import { facesOn, sameSurface, stepOfSurface as stepOf, surfaceLabel } from '#core/recipe';
import { axisOf, directionOf, edgesBetween, roundingMm, type Solid, type Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { cross, distanceBetweenLines, distanceToLine, dot, length, normalize, subtract } from '#core/vector';

import { shiftMm, type Sampled } from './displacement.ts';

/** A surface that moves in a freedom. */
export interface Moved {
  readonly sample: Sampled;
  readonly then: Surface;
  readonly byMm: number;
}

/** What moves in a freedom, and what stays. */
export interface Sides {
  readonly moved: readonly Moved[];
  readonly still: readonly Sampled[];
  /** Whether it is an angle that is open. */
  readonly isTurn: boolean;
}

const MOST_IDEAS = 40;
const AXES = [0, 1, 2] as const;

/** Makes a check of a kind on named surfaces. */
type Idea = (kind: CheckKind, names: readonly string[], label: string) => Check;

interface Ideas {
  readonly solid: Solid;
  readonly moved: readonly Moved[];
  readonly still: readonly Sampled[];
  readonly idea: Idea;
  /** A surface in words. */
  readonly words: (sample: Sampled) => string;
  /** Whether it is an angle that is open. */
  readonly isTurn: boolean;
  /** The name of a face. */
  readonly nameOf: (faceId: number) => string | undefined;
  /** Surfaces of other steps that make one face with a surface. */
  readonly sharing: (sample: Sampled) => readonly { readonly name: string; readonly words: string }[];
}

/** Checks on what moves, from what stays: sizes before places, and places from the nearest parallel face. */
export function ideasFor(
  { exercise: { decimals, checks, recipe }, solid, surfaces }: PlanBasis,
  { moved, still, isTurn }: Sides,
): readonly Check[] {
  const taken = new Set(checks.map(({ id }) => id));
  const tolerance = usualTolerance(decimals);
  const names = new Map(
    [...moved.map(({ sample }) => sample), ...still].flatMap(({ name, faceIds }) =>
      faceIds.map((id) => [id, name] as const),
    ),
  );
  const ideas: Ideas = {
    solid,
    moved,
    still,
    idea: (kind, on, label) =>
      checkFromSurfaces(kind, on, { id: freeCheckId(label, taken), label, tolerance, weight: 1 }),
    isTurn,
    words: ({ name }) => surfaceLabel(name, recipe.steps),
    nameOf: (id) => names.get(id),
    sharing: ({ name, surface, faceIds }) =>
      [...surfaces].flatMap(([other, same]) =>
        stepOf(other) !== stepOf(name) &&
        sameSurface(surface, same) &&
        facesOn(solid.faces, same).some((id) => faceIds.includes(id))
          ? [{ name: other, words: surfaceLabel(other, recipe.steps) }]
          : [],
      ),
  };
  return [
    ...moved.flatMap((one) => MAKERS.flatMap((make) => make(one, ideas))).slice(0, MOST_IDEAS),
    ...endsOfNecks([...moved.map(({ sample }) => sample), ...still], ideas),
    ...countsOf(moved, ideas),
    ideas.idea('square', [], 'Square and parallel as drawn'),
    ideas.idea('nothing-else', [], 'Nothing that the sheet does not show'),
  ];
}

type Maker = (moved: Moved, ideas: Ideas) => readonly Check[];

/** The radius or diameter of a round that changes its size. */
const sizes: Maker = ({ sample, then }, { solid, idea, words }) => {
  const { surface, name } = sample;
  const [before, after] = [roundingMm(surface), roundingMm(then)];
  if (before === null || after === null || before === after) return [];
  if (surface.kind !== 'cylinder') return [idea('radius', [name], `${words(sample)} radius`)];
  // An arc of less than half a turn is dimensioned by its radius.
  const kinds: readonly CheckKind[] = isHalfTurn(sample, solid) ? ['diameter', 'radius'] : ['radius', 'diameter'];
  return kinds.map((kind) => idea(kind, [name], `${words(sample)} ${kind}`));
};

/** No step in a face that several steps make together. */
const flushes: Maker = ({ sample }, { sharing, idea, words }) =>
  sample.surface.kind === 'plane'
    ? sharing(sample).map((other) =>
        idea('flush', [sample.name, other.name], `${words(sample)} flush with ${other.words}`),
      )
    : [];

/** One center for what is drawn about one. */
const centers: Maker = ({ sample }, { still, idea, words }) =>
  still
    .filter((other) => isCoaxial(other.surface, sample.surface))
    .map((other) => idea('concentric', [other.name, sample.name], `${words(sample)} concentric with ${words(other)}`));

/** The two sizes of a chamfer that a face is. */
const chamfers: Maker = ({ sample: { faceIds } }, { solid, idea, nameOf }) =>
  featuresOf(solid, 'chamfer')
    .filter((chamfer) => chamfer.faceIds.some((id) => faceIds.includes(id)))
    .flatMap(({ onFaceIds }) => {
      const [on, to] = onFaceIds.map(nameOf);
      if (on === undefined || to === undefined) return [];
      return [
        { ...idea('chamfer-size', [], 'Chamfer'), on, to } as Check,
        { ...idea('chamfer-size', [], 'Other leg of the chamfer'), on: to, to: on } as Check,
      ];
    });

/** The width of what grows to both sides. */
const widths: Maker = ({ sample, then }, { moved, idea, words }) => {
  const { surface, name } = sample;
  if (surface.kind !== 'plane' || isTurned(surface, then)) return [];
  const other = moved.find(
    ({ sample: { surface: one } }) => one.kind === 'plane' && dot(one.normal, surface.normal) < -SAME_DIRECTION_COSINE,
  );
  return other === undefined
    ? []
    : [idea('distance', [name, other.sample.name], `${words(sample)} to ${words(other.sample)}`)];
};

/** Where a slope begins and ends on the faces that it meets. */
const slopes: Maker = ({ sample }, { still, solid, idea, words }) =>
  edgesOf(sample, still, solid).map(([on, from]) =>
    idea(
      'edge-distance',
      [sample.name, on.name, from.name],
      `Edge of ${words(sample)} and ${words(on)} from ${words(from)}`,
    ),
  );

/** The ends of a cone. */
const rims: Maker = ({ sample }, { still, solid, idea, words }) =>
  still
    .filter((other) => meetInCircle(sample, other, solid))
    .map((on) => idea('edge-diameter', [sample.name, on.name], `Diameter of ${words(sample)} at ${words(on)}`));

/** The angle of what turns, or the place of what is moved. */
const places: Maker = ({ sample, then }, { still, idea, words }) => {
  const { name, surface } = sample;
  if (isTurned(surface, then))
    return still
      .filter((other) => leans(other.surface, surface))
      .map((other) => idea('angle', [other.name, name], `Angle of ${words(sample)}`));
  const shift = shiftMm(surface, then);
  return nearestFirst(sample, still).flatMap((other): readonly Check[] => {
    const label = `${words(sample)} from ${words(other)}`;
    if (surface.kind === 'plane')
      return other.surface.kind === 'plane'
        ? [idea('distance', [other.name, name], label)]
        : [idea('hole-position', [other.name, name], `${words(other)} from ${words(sample)}`)];
    if (other.surface.kind === 'cylinder') return [idea('center-distance', [other.name, name], label)];
    if (other.surface.kind !== 'plane' || shift === null) return [];
    const moves = Math.abs(dot(shift, other.surface.normal)) > SAME_PLACE_MM;
    return moves ? [idea('hole-position', [name, other.name], label)] : [];
  });
};

/** Where the holes of a circle begin, from a face that runs along their axes. */
const turns: Maker = ({ sample, then }, { still, idea, words, isTurn }) => {
  if (!isTurn) return [];
  const [own, other] = [axisOf(sample.surface), axisOf(then)];
  if (own === null || other === null || isTurned(sample.surface, then)) return [];
  const center = still.find(({ surface }) => {
    const axis = axisOf(surface);
    if (axis === null || length(cross(axis.direction, own.direction)) > BUILT_PARALLEL_SINE) return false;
    const [before, after] = [own, other].map(({ origin }) => distanceToLine(origin, axis.origin, axis.direction));
    return before !== undefined && before > SAME_PLACE_MM && Math.abs(before - (after ?? 0)) < SAME_PLACE_MM;
  });
  if (center === undefined) return [];
  return still
    .filter(
      ({ surface }) => surface.kind === 'plane' && Math.abs(dot(surface.normal, own.direction)) < BUILT_PARALLEL_SINE,
    )
    .slice(0, 4)
    .map((from) =>
      idea('angle-about', [sample.name, center.name, from.name], `Angle of ${words(sample)} about ${words(center)}`),
    );
};

/** A hole through the middle of a shaft. */
const crossings: Maker = ({ sample }, { still, idea, words }) => {
  const own = axisOf(sample.surface);
  if (own === null) return [];
  return still
    .filter(({ surface }) => {
      const axis = axisOf(surface);
      if (axis === null || length(cross(axis.direction, own.direction)) < MEETING_SINE) return false;
      return distanceBetweenLines(own.origin, own.direction, axis.origin, axis.direction) < SAME_PLACE_MM;
    })
    .map((other) =>
      idea('axes-meet', [other.name, sample.name], `${words(sample)} through the axis of ${words(other)}`),
    );
};

/** Axes that lean to each other by less are nearly parallel, 10 degrees. */
const MEETING_SINE = Math.sin((10 * Math.PI) / 180);

/** What leans is placed from a corner of what stands straight. */
const fromCorners: Maker = ({ sample }, { still, solid, idea, words }) =>
  isAslant(sample.surface)
    ? cornersOf(still, sample.surface, solid).map(([of, on]) =>
        idea(
          'edge-distance',
          [of.name, on.name, sample.name],
          `${words(sample)} from the edge of ${words(of)} and ${words(on)}`,
        ),
      )
    : [];

const MAKERS: readonly Maker[] = [
  flushes,
  sizes,
  centers,
  chamfers,
  widths,
  slopes,
  rims,
  turns,
  places,
  crossings,
  fromCorners,
];

/** The largest circles around flat faces: a neck between two outlines has no size of its own. */
const endsOfNecks = (samples: readonly Sampled[], { idea, words }: Ideas): readonly Check[] =>
  samples
    .filter(({ surface }) => surface.kind === 'plane')
    .map((sample) => ({
      ...(idea('edge-diameter', [sample.name], `Diameter of ${words(sample)}`) as Extract<
        Check,
        { kind: 'edge-diameter' }
      >),
      on: undefined,
    }));

/** How many holes there are like one that moves, or that stays. */
const countsOf = (moved: readonly Moved[], { solid, still, idea, words }: Ideas): readonly Check[] => {
  const holes = findHoles(solid);
  return [...moved.map(({ sample }) => sample), ...still]
    .filter(({ faceIds }) => holes.some((hole) => hole.faceIds.some((id) => faceIds.includes(id))))
    .map((sample): Check => {
      const label = `Number of holes like ${words(sample)}`;
      return { ...(idea('hole-count', [], label) as Extract<Check, { kind: 'hole-count' }>), like: sample.name };
    });
};

/** Whether a surface leans otherwise than before. */
export function isTurned(from: Surface, to: Surface): boolean {
  const [a, b] = [directionOf(from), directionOf(to)];
  return a !== null && b !== null && length(cross(a, b)) > BUILT_PARALLEL_SINE;
}

const isHalfTurn = ({ faceIds }: Sampled, solid: Solid): boolean =>
  faceIds.reduce((cover, id) => cover + (solid.faces[id] ? circleCover(solid, solid.faces[id]) : 0), 0) >= 0.5;

/** Whether a face that has no one place meets another in a circle. */
function meetInCircle({ surface, faceIds }: Sampled, other: Sampled, solid: Solid): boolean {
  if (surface.kind !== 'cone' && surface.kind !== 'freeform' && surface.kind !== 'plane') return false;
  if (surface.kind === 'plane' && other.surface.kind === 'plane') return false;
  return edgesBetween(solid, faceIds, other.faceIds).some(({ curve }) => curve === 'circle');
}

/** Whether two round faces are about one axis. */
function isCoaxial(a: Surface, b: Surface): boolean {
  const [s, t] = [axisOf(a), axisOf(b)];
  return (
    s !== null &&
    t !== null &&
    length(cross(s.direction, t.direction)) < BUILT_PARALLEL_SINE &&
    distanceToLine(t.origin, s.origin, s.direction) < SAME_PLACE_MM
  );
}

/** Whether a flat or round face stands along none of the axes of the part. */
function isAslant(surface: Surface): boolean {
  const direction = surface.kind === 'plane' || surface.kind === 'cylinder' ? directionOf(surface) : null;
  return direction !== null && AXES.every((i) => Math.abs(direction[i]) < SAME_DIRECTION_COSINE);
}

/** Pairs of flat faces that stay and meet in a straight edge, along which a leaning face or axis can be placed. */
function cornersOf(
  still: readonly Sampled[],
  surface: Surface,
  solid: Solid,
): readonly (readonly [Sampled, Sampled])[] {
  const flat = still.filter(({ surface: one }) => one.kind === 'plane' && !isAslant(one));
  const direction = directionOf(surface);
  return flat.flatMap((a, i) =>
    flat.slice(0, i).flatMap((b): readonly (readonly [Sampled, Sampled])[] => {
      const edge = edgesBetween(solid, a.faceIds, b.faceIds).find(({ curve }) => curve === 'line');
      const along = edge === undefined ? null : normalize(subtract(edge.end, edge.start));
      const fits = along !== null && direction !== null && Math.abs(dot(along, direction)) < BUILT_PARALLEL_SINE;
      return fits ? [[a, b]] : [];
    }),
  );
}

/** Edges of a slanting face with faces that stay, each with flat faces that stay and that the edge runs along. */
function edgesOf(
  { surface, faceIds }: Sampled,
  still: readonly Sampled[],
  solid: Solid,
): readonly (readonly [on: Sampled, from: Sampled])[] {
  const isCone = surface.kind === 'cone';
  if (!isCone && !(surface.kind === 'plane' && isAslant(surface))) return [];
  const flat = still.filter(({ surface: one }) => one.kind === 'plane');
  return (isCone ? still : flat)
    .filter((other) => edgesBetween(solid, faceIds, other.faceIds).length > 0)
    .flatMap((on) =>
      flat
        .filter(({ surface: one }) => {
          const [a, b] = [directionOf(one), directionOf(isCone ? surface : on.surface)];
          if (a === null || b === null) return false;
          const cosine = Math.abs(dot(a, b));
          // The rim of a cone is square to its axis; a straight foot runs along what stands on the face that it is on.
          return isCone ? cosine > SAME_DIRECTION_COSINE : cosine < BUILT_PARALLEL_SINE;
        })
        .map((from) => [on, from] as const),
    );
}

/** Whether a face lies so that an angle to it is one that a view shows. */
function leans(from: Surface, to: Surface): boolean {
  const [a, b] = [directionOf(from), directionOf(to)];
  const cosine = a === null || b === null ? 1 : Math.abs(dot(a, b));
  return from.kind === 'plane' && cosine > 0.05 && cosine < SAME_DIRECTION_COSINE;
}

/** Flat faces come before axes, and those of the first body, which are finished first, before all others. */
const [ROUND_MM, NO_DATUM_MM] = [1e6, 1e4] as const;

/** What a face or axis could be measured from: parallel faces, then axes, the nearest first. */
function nearestFirst({ surface }: Sampled, still: readonly Sampled[]): readonly Sampled[] {
  const own = directionOf(surface);
  const at = surface.kind === 'plane' || surface.kind === 'cylinder' ? surface.origin : null;
  if (own === null || at === null) return [];
  const base = stepOf(still[0]?.name ?? '');
  return still
    .flatMap((other) => {
      const direction = directionOf(other.surface);
      if (direction === null || (other.surface.kind !== 'plane' && other.surface.kind !== 'cylinder')) return [];
      const isFlat = other.surface.kind === 'plane';
      const cosine = Math.abs(dot(own, direction));
      const fits =
        isFlat === (surface.kind === 'plane') ? cosine > SAME_DIRECTION_COSINE : cosine < BUILT_PARALLEL_SINE;
      const apart = isFlat ? Math.abs(dot(subtract(at, other.surface.origin), direction)) : ROUND_MM;
      const isDatum = stepOf(other.name) === base && !isAslant(other.surface);
      return fits ? [{ other, apart: apart + (isDatum ? 0 : NO_DATUM_MM) }] : [];
    })
    .sort((a, b) => a.apart - b.apart)
    .map(({ other }) => other);
}
