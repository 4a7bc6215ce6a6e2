import { placeOf } from '#core/chain';
import { featuresOf } from '#core/feature';
import { distanceTo } from '#core/fit';
import { facesOn, sameSurface, stepOfSurface as stepOf, type NamedSurfaces } from '#core/recipe';
import { shapeOf, axisOf, directionOf, type Axis, type Solid, type Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { angleBetween, cross, dot, length, nearestOnLine, subtract, type Vec3 } from '#core/vector';

import type { Sampled } from './displacement.ts';

/** Something that a drawing says without a number. Its values are 0 on the part as drawn, in mm at the size of the part. */
export interface Convention {
  readonly name:
    | 'square'
    | 'parallel'
    | 'concentric'
    | 'about-center'
    | 'on-center-line'
    | 'aligned'
    | 'one-face'
    | 'symmetric'
    | 'tangent'
    | 'chamfer-angle'
    | 'origin';
  readonly values: (surfaces: NamedSurfaces, solid: Solid) => readonly number[];
}

/** The part as drawn. */
export interface DrawnSurfaces {
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
  readonly samples: readonly Sampled[];
}

const AXES = [0, 1, 2] as const;

const directionIn = (surfaces: NamedSurfaces, name: string): Vec3 | null => {
  const surface = surfaces.get(name);
  return surface === undefined ? null : directionOf(surface);
};

const axisIn = (surfaces: NamedSurfaces, name: string): Axis | null => {
  const surface = surfaces.get(name);
  return surface === undefined ? null : axisOf(surface);
};

/** A point that a flat face or an axis passes through. */
const pointOf = (surface: Surface): Vec3 | null =>
  surface.kind === 'plane' || surface.kind === 'cylinder' || surface.kind === 'cone' ? surface.origin : null;

const isSameLine = (a: Axis, b: Axis): boolean =>
  length(cross(a.direction, b.direction)) < BUILT_PARALLEL_SINE &&
  length(subtract(b.origin, nearestOnLine(b.origin, a.origin, a.direction))) < SAME_PLACE_MM;

/**
 * What a sheet of the part says without numbers: faces and axes that lie along the axes of the part, or to each other,
 * square and parallel as drawn; one center for what is drawn about one; faces drawn in one line; symmetry of the whole
 * part, or by a note, about its drawn center lines; smooth transitions; and where the origin is.
 */
export function conventionsOf(
  { solid, surfaces, samples }: DrawnSurfaces,
  notes: readonly string[],
): readonly Convention[] {
  const sizeMm = Math.max(...AXES.map((i) => solid.bounds.max[i] - solid.bounds.min[i]));
  return [
    ...squareAndParallel(samples, sizeMm / 2),
    ...concentric(samples),
    ...aboutCenter(samples),
    ...onCenterLine(samples),
    ...inLine(samples),
    ...oneFace({ solid, surfaces, samples }),
    ...symmetric(solid, samples, notes),
    ...tangent(solid, samples),
    ...origin(samples),
  ];
}

function squareAndParallel(samples: readonly Sampled[], armMm: number): readonly Convention[] {
  const found: Convention[] = [];
  const leaning: Sampled[] = [];
  for (const sample of samples) {
    const direction = directionOf(sample.surface);
    if (direction === null) continue;
    const own = AXES.find((i) => Math.abs(direction[i]) > SAME_DIRECTION_COSINE);
    if (own === undefined) leaning.push(sample);
    else
      found.push({
        name: 'square',
        values: (surfaces) => {
          const now = directionIn(surfaces, sample.name);
          return now === null ? [] : AXES.filter((i) => i !== own).map((i) => now[i] * armMm);
        },
      });
  }
  // Of leaning directions, each is drawn parallel or square to the first one that it is so to.
  leaning.forEach((sample, i) => {
    const direction = directionOf(sample.surface);
    const other = leaning.slice(0, i).find(({ surface }) => {
      const first = directionOf(surface);
      if (first === null || direction === null) return false;
      const cosine = Math.abs(dot(first, direction));
      return cosine > SAME_DIRECTION_COSINE || cosine < BUILT_PARALLEL_SINE;
    });
    const first = other === undefined ? null : directionOf(other.surface);
    if (other === undefined || direction === null || first === null) return;
    const isParallel = Math.abs(dot(first, direction)) > 0.5;
    found.push({
      name: isParallel ? 'parallel' : 'square',
      values: (surfaces) => {
        const [a, b] = [directionIn(surfaces, other.name), directionIn(surfaces, sample.name)];
        if (a === null || b === null) return [];
        return isParallel ? cross(a, b).map((one) => one * armMm) : [dot(a, b) * armMm];
      },
    });
  });
  // A direction in one of the planes of the axes is drawn true there and square to that plane.
  for (const sample of leaning) {
    const direction = directionOf(sample.surface);
    const flat = direction === null ? [] : AXES.filter((i) => Math.abs(direction[i]) < BUILT_PARALLEL_SINE);
    if (flat.length > 0)
      found.push({
        name: 'square',
        values: (surfaces) => {
          const now = directionIn(surfaces, sample.name);
          return now === null ? [] : flat.map((i) => now[i] * armMm);
        },
      });
  }
  return found;
}

function concentric(samples: readonly Sampled[]): readonly Convention[] {
  const round = samples.filter(({ surface }) => axisOf(surface) !== null);
  return round.flatMap((sample, i): Convention[] => {
    const own = axisOf(sample.surface);
    const other = round.slice(0, i).find(({ surface }) => {
      const first = axisOf(surface);
      return first !== null && own !== null && isSameLine(first, own);
    });
    return other === undefined
      ? []
      : [
          {
            name: 'concentric',
            values: (surfaces) => {
              const [a, b] = [axisIn(surfaces, other.name), axisIn(surfaces, sample.name)];
              return a === null || b === null ? [] : subtract(b.origin, nearestOnLine(b.origin, a.origin, a.direction));
            },
          },
        ];
  });
}

/** Faces of one step that are drawn about the center of a round: a hexagon by its pairs, a circle of holes by its radius. */
function aboutCenter(samples: readonly Sampled[]): readonly Convention[] {
  const steps = [...new Set(samples.map(({ name }) => stepOf(name)))];
  const centers = distinctAxes(samples);
  return steps.flatMap((step) => {
    const own = samples.filter(({ name }) => stepOf(name) === step);
    return centers.flatMap((center) => [...pairsAbout(own, center), ...circleAbout(own, center)]);
  });
}

/** One surface for each axis that a round of the part has. */
function distinctAxes(samples: readonly Sampled[]): readonly Sampled[] {
  const found: Sampled[] = [];
  for (const sample of samples) {
    const line = axisOf(sample.surface);
    const isNew = found.every(({ surface }) => {
      const other = axisOf(surface);
      return other === null || line === null || !isSameLine(other, line);
    });
    if (line !== null && isNew) found.push(sample);
  }
  return found.slice(0, MOST_CENTERS);
}

const MOST_CENTERS = 24;

/** How far a flat face that runs along an axis lies from it; null for another face. */
function offAxisMm(surface: Surface | undefined, line: Axis | null): number | null {
  if (surface?.kind !== 'plane' || line === null) return null;
  return dot(subtract(surface.origin, line.origin), surface.normal);
}

function pairsAbout(own: readonly Sampled[], center: Sampled): readonly Convention[] {
  const line = axisOf(center.surface);
  const along = own.filter(
    ({ surface }) =>
      surface.kind === 'plane' && line !== null && Math.abs(dot(surface.normal, line.direction)) < BUILT_PARALLEL_SINE,
  );
  const twinOf = ({ surface }: Sampled): Sampled | undefined =>
    along.find(
      (other) =>
        surface.kind === 'plane' &&
        other.surface.kind === 'plane' &&
        dot(other.surface.normal, surface.normal) < -SAME_DIRECTION_COSINE &&
        Math.abs((offAxisMm(other.surface, line) ?? 0) - (offAxisMm(surface, line) ?? 0)) < SAME_PLACE_MM,
    );
  if (along.length < 2 || !along.every((sample) => twinOf(sample) !== undefined)) return [];
  return along.map((sample) => ({
    name: 'about-center',
    values: (surfaces) => {
      const now = axisIn(surfaces, center.name);
      const [a, b] = [sample, twinOf(sample)].map((one) => offAxisMm(surfaces.get(one?.name ?? ''), now));
      return typeof a === 'number' && typeof b === 'number' ? [(a - b) / 2] : [];
    },
  }));
}

function circleAbout(own: readonly Sampled[], center: Sampled): readonly Convention[] {
  const awayMm = (surface: Surface | undefined, line: Axis | null): number | null => {
    if (surface?.kind !== 'cylinder' || line === null) return null;
    return length(subtract(surface.origin, nearestOnLine(surface.origin, line.origin, line.direction)));
  };
  const line = axisOf(center.surface);
  const members = own.filter(
    ({ surface }) =>
      surface.kind === 'cylinder' &&
      line !== null &&
      length(cross(surface.direction, line.direction)) < BUILT_PARALLEL_SINE,
  );
  const [first] = members;
  const radius = awayMm(first?.surface, line) ?? 0;
  const isCircle = members.every(({ surface }) => Math.abs((awayMm(surface, line) ?? 0) - radius) < SAME_PLACE_MM);
  if (first === undefined || members.length < 3 || radius < SAME_PLACE_MM || !isCircle) return [];
  return members.slice(1).map(({ name }) => ({
    name: 'about-center',
    values: (surfaces) => {
      const now = axisIn(surfaces, center.name);
      const [a, b] = [awayMm(surfaces.get(first.name), now), awayMm(surfaces.get(name), now)];
      return a === null || b === null ? [] : [b - a];
    },
  }));
}

/** Axes that cross each other: one is drawn on the center line of the other. */
function onCenterLine(samples: readonly Sampled[]): readonly Convention[] {
  const apartMm = (a: Axis | null, b: Axis | null): number | null => {
    if (a === null || b === null) return null;
    const across = cross(a.direction, b.direction);
    return length(across) < MEETING_SINE ? null : dot(subtract(b.origin, a.origin), across) / length(across);
  };
  const centers = distinctAxes(samples);
  return centers.flatMap((center, i) =>
    centers.slice(0, i).flatMap((other): Convention[] => {
      const apart = apartMm(axisOf(other.surface), axisOf(center.surface));
      if (apart === null || Math.abs(apart) > SAME_PLACE_MM) return [];
      return [
        {
          name: 'on-center-line',
          values: (surfaces) => {
            const now = apartMm(axisIn(surfaces, other.name), axisIn(surfaces, center.name));
            return now === null ? [] : [now];
          },
        },
      ];
    }),
  );
}

/** Axes that cross at less than 5 degrees are not told from parallel ones in a view. */
const MEETING_SINE = Math.sin((5 * Math.PI) / 180);

/** Flat faces in one plane, and axes of one step that lie at one height: they are drawn in one line. */
function inLine(samples: readonly Sampled[]): readonly Convention[] {
  const found: Convention[] = [];
  const at = (surface: Surface | undefined, axis: 0 | 1 | 2): number | null =>
    surface === undefined ? null : (pointOf(surface)?.[axis] ?? null);
  for (const axis of AXES) {
    const flat = samples.filter(
      ({ surface }) => surface.kind === 'plane' && Math.abs(surface.normal[axis]) > SAME_DIRECTION_COSINE,
    );
    const round = samples.filter(
      ({ surface }) => surface.kind === 'cylinder' && Math.abs(surface.direction[axis]) < BUILT_PARALLEL_SINE,
    );
    const align = (list: readonly Sampled[], fits: (a: Sampled, b: Sampled) => boolean): void => {
      list.forEach((sample, i) => {
        const place = at(sample.surface, axis);
        const other = list
          .slice(0, i)
          .find((one) => Math.abs((at(one.surface, axis) ?? 0) - (place ?? 0)) < SAME_PLACE_MM && fits(one, sample));
        if (other !== undefined)
          found.push({
            name: 'aligned',
            values: (surfaces) => {
              const [a, b] = [at(surfaces.get(other.name), axis), at(surfaces.get(sample.name), axis)];
              return a === null || b === null ? [] : [b - a];
            },
          });
      });
    };
    align(flat, () => true);
    align(round, (a, b) => stepOf(a.name) === stepOf(b.name));
  }
  return found;
}

/** Surfaces of several steps that make one face, as two pieces of one tube: it is drawn without a step. */
function oneFace({ solid, surfaces, samples }: DrawnSurfaces): readonly Convention[] {
  return samples.flatMap(({ name, surface, points, faceIds }) =>
    [...surfaces].flatMap(([other, same]): Convention[] => {
      if (other === name || !sameSurface(surface, same)) return [];
      // Two faces in one plane, apart from each other, are not drawn as one.
      if (!facesOn(solid.faces, same).some((id) => faceIds.includes(id))) return [];
      return [
        {
          name: 'one-face',
          values: (now) => {
            const [first, second] = [now.get(name), now.get(other)].map((one) =>
              one === undefined ? null : shapeOf(one),
            );
            if (!first || !second) return [];
            return points.slice(0, POINTS_OF_FACE).map((point) => distanceTo(second, point) - distanceTo(first, point));
          },
        },
      ];
    }),
  );
}

/** So many points tell how a surface moved and leaned. */
const POINTS_OF_FACE = 6;

const SYMMETRY_NOTE = /\bsymmetr/i;
const NO_SYMMETRY = /\bnot symmetr/i;

/** Pairs about the planes that the whole part is symmetric about, or about all middle planes where a note says so. */
function symmetric(solid: Solid, samples: readonly Sampled[], notes: readonly string[]): readonly Convention[] {
  const noted = notes.some((note) => SYMMETRY_NOTE.test(note) && !NO_SYMMETRY.test(note));
  const middles = AXES.flatMap((axis) => {
    const middle = (solid.bounds.min[axis] + solid.bounds.max[axis]) / 2;
    const drawn = featuresOf(solid, 'symmetry-plane').some(
      ({ origin: at, normal }) =>
        Math.abs(normal[axis]) > SAME_DIRECTION_COSINE && Math.abs(at[axis] - middle) < SAME_PLACE_MM,
    );
    return drawn || noted ? [{ axis, middle }] : [];
  });
  const boundsMiddle = (of: Solid, axis: 0 | 1 | 2): number => (of.bounds.min[axis] + of.bounds.max[axis]) / 2;
  return middles.flatMap(({ axis, middle }) =>
    samples.flatMap((sample, i): Convention[] => {
      const place = placeOf(sample.surface, axis);
      if (place === null) return [];
      const twin = samples.find(
        ({ surface }, k) =>
          k >= i && surface.kind === sample.surface.kind && mirrors(sample.surface, surface, axis, middle),
      );
      return twin === undefined
        ? []
        : [
            {
              name: 'symmetric',
              values: (surfaces, of) => {
                const [a, b] = [sample, twin].map(({ name }) => placeOf(surfaces.get(name), axis));
                return typeof a === 'number' && typeof b === 'number' ? [(a + b) / 2 - boundsMiddle(of, axis)] : [];
              },
            },
          ];
    }),
  );
}

/** Whether two surfaces are mirror images about a middle plane across an axis; one in the plane is its own. */
function mirrors(a: Surface, b: Surface, axis: 0 | 1 | 2, middle: number): boolean {
  const [p, q] = [placeOf(a, axis), placeOf(b, axis)];
  if (p === null || q === null || Math.abs(p + q - 2 * middle) > SAME_PLACE_MM) return false;
  if (a.kind === 'cylinder' && b.kind === 'cylinder') {
    const others = AXES.filter((i) => i !== axis);
    const apart = subtract(b.origin, nearestOnLine(b.origin, a.origin, a.direction));
    return (
      Math.abs(a.radiusMm - b.radiusMm) < SAME_PLACE_MM &&
      length(cross(a.direction, b.direction)) < BUILT_PARALLEL_SINE &&
      others.every((i) => Math.abs(apart[i]) < SAME_PLACE_MM)
    );
  }
  return a.kind === 'plane';
}

/** Flat and round faces that run on smoothly into each other. */
function tangent(solid: Solid, samples: readonly Sampled[]): readonly Convention[] {
  const nameOf = new Map(samples.flatMap(({ name, faceIds }) => faceIds.map((id) => [id, name] as const)));
  return solid.edges.flatMap(({ convexity, faceIds }): Convention[] => {
    const [a, b] = faceIds.map((id) => nameOf.get(id));
    if (convexity !== 'smooth' || a === undefined || b === undefined || a === b) return [];
    return [
      {
        name: 'tangent',
        values: (surfaces) => {
          const [first, second] = [surfaces.get(a), surfaces.get(b)];
          const gap =
            first === undefined || second === undefined ? null : (smoothGap(first, second) ?? smoothGap(second, first));
          return gap === null ? [] : [gap];
        },
      },
    ];
  });
}

function smoothGap(a: Surface, b: Surface): number | null {
  if (b.kind !== 'cylinder') return null;
  if (a.kind === 'plane') return Math.abs(dot(subtract(b.origin, a.origin), a.normal)) - b.radiusMm;
  if (a.kind !== 'cylinder') return null;
  const apart = length(subtract(b.origin, nearestOnLine(b.origin, a.origin, a.direction)));
  const [sum, difference] = [a.radiusMm + b.radiusMm, Math.abs(a.radiusMm - b.radiusMm)];
  return Math.abs(apart - sum) < Math.abs(apart - difference) ? apart - sum : apart - difference;
}

/**
 * The note on the origin says where the first body lies: by its middle where it was drawn about the origin, else by the
 * face or axis of it that is nearest to the origin.
 */
function origin(samples: readonly Sampled[]): readonly Convention[] {
  const [first] = samples;
  const own = samples.filter(({ name }) => stepOf(name) === stepOf(first?.name ?? ''));
  return AXES.flatMap((axis): Convention[] => {
    const places = own.flatMap(({ name, surface }) => {
      const at = placeOf(surface, axis);
      return at === null ? [] : [{ name, at }];
    });
    const nearest = [...places].sort((a, b) => Math.abs(a.at) - Math.abs(b.at))[0];
    const twin = places.find(({ at }) => nearest !== undefined && Math.abs(at + nearest.at) < SAME_PLACE_MM);
    if (nearest === undefined) return [];
    return [
      {
        name: 'origin',
        values: (surfaces) => {
          const [a, b] = [nearest, twin ?? nearest].map(({ name }) => placeOf(surfaces.get(name), axis));
          return typeof a === 'number' && typeof b === 'number' ? [(a + b) / 2] : [];
        },
      },
    ];
  });
}

/** The angle that the callout of a chamfer prints behind its leg, as the turning of the chamfer against its face. */
export function chamferAngles(
  samples: readonly Sampled[],
  chamfers: readonly { readonly faceIds: readonly number[]; readonly onFaceIds: readonly number[] }[],
  armMm: number,
): readonly Convention[] {
  const on = (ids: readonly number[]): Sampled | undefined =>
    samples.find(({ faceIds }) => faceIds.some((id) => ids.includes(id)));
  return chamfers.flatMap(({ faceIds, onFaceIds }): Convention[] => {
    const [chamfer, face] = [on(faceIds), on(onFaceIds)];
    if (chamfer === undefined || face === undefined) return [];
    return [
      {
        name: 'chamfer-angle',
        values: (surfaces) => {
          const [slope, beside] = [surfaces.get(chamfer.name), surfaces.get(face.name)];
          if (slope?.kind === 'cone') return [slope.halfAngleRad * armMm];
          return slope?.kind === 'plane' && beside?.kind === 'plane'
            ? [angleBetween(slope.normal, beside.normal) * armMm]
            : [];
        },
      },
    ];
  });
}
