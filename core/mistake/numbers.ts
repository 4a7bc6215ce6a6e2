import type { Reference } from '#core/check';
import { massOf, MATERIALS, UNSET_DENSITY_G_PER_CM3 } from '#core/material';
import { LENGTH_UNITS } from '#core/quantity';
import type { Vec3 } from '#core/vector';

import type { Atlas } from './atlas.ts';
import type { Fingerprint } from '#core/solid';
import type { Mistake } from './mistake.ts';

/** A number that was read off a model, with how finely it was written. */
export interface ReadNumber {
  readonly value: number;
  readonly resolution: number;
}

/** Numbers without a file: mm3, g and mm. */
export interface Numbers {
  readonly volumeMm3?: ReadNumber | undefined;
  readonly massG?: ReadNumber | undefined;
  readonly centroidMm?: readonly [ReadNumber | null, ReadNumber | null, ReadNumber | null] | undefined;
}

/** What numbers alone may mean. */
export interface NumberCause {
  readonly id: string;
  /** Beside the other causes, 0 to 1. */
  readonly certainty: number;
  readonly message: string;
  /** Of the catalogue; null for what has nothing to do with the shape. */
  readonly mistake: Mistake | null;
}

export interface NumbersAnswer {
  /** Whether the numbers are those of the right part. */
  readonly right: boolean;
  /** The likeliest first. */
  readonly causes: readonly NumberCause[];
}

/** Programs that integrate over facets, or round on the way, are off by this share. */
const SHARE = 5e-5;
const LENGTH_MM = 0.005;
const MOST_CAUSES = 6;
/** So many uncertainties apart still counts as the same. */
const WITHIN = 2.5;
/** Weights of what happens beside the shape, in the measure of the catalogue. */
const PRIORS = { material: 10, unit: 8, origin: 6, plane: 5, hand: 3 } as const;

/** Something that may explain the numbers, and how many uncertainties they are apart from what it would give. */
interface Idea {
  readonly id: string;
  readonly prior: number;
  readonly apart: number;
  readonly message: string;
  readonly mistake?: Mistake;
}

interface PropertiesOfModel {
  readonly volumeMm3: number;
  readonly centroidMm: Vec3;
}

type ReadCenter = readonly (ReadNumber | null)[];

/** How many uncertainties the numbers are apart from those of a model, at the worst of them; infinite without numbers. */
const misfitOf =
  (volume: ReadNumber | null, center: ReadCenter) =>
  (model: PropertiesOfModel): number => {
    const parts: number[] = [];
    if (volume !== null)
      parts.push(Math.abs(volume.value - model.volumeMm3) / Math.max(volume.resolution, model.volumeMm3 * SHARE));
    center.forEach((read, axis) => {
      if (read !== null)
        parts.push(Math.abs(read.value - (model.centroidMm[axis] ?? 0)) / Math.max(read.resolution, LENGTH_MM));
    });
    return parts.length === 0 ? Infinity : Math.max(...parts);
  };

/** Materials in which the volume has the mass that was read. */
function otherMaterials(
  { massG, volumeMm3 }: Numbers,
  rightVolumeMm3: number,
  { densityGPerCm3, shapeFits }: { readonly densityGPerCm3: number; readonly shapeFits: boolean },
): readonly Idea[] {
  if (massG === undefined || !shapeFits) return [];
  const own = volumeMm3?.value ?? rightVolumeMm3;
  return [...MATERIALS, { name: 'no material (1 g/cm³)', densityGPerCm3: UNSET_DENSITY_G_PER_CM3 }]
    .filter(
      (other) =>
        Math.abs(other.densityGPerCm3 - densityGPerCm3) > 1e-9 && near(massG, massOf(own, other.densityGPerCm3)),
    )
    .map((other) => ({
      id: `wrong-material:${other.name}`,
      prior: PRIORS.material,
      apart: 0,
      message: `The mass is that of the right volume in ${other.name.toLowerCase()} (${String(other.densityGPerCm3)} g/cm³); the exercise asks for ${String(densityGPerCm3)} g/cm³.`,
    }));
}

/** The right volume with its center of mass elsewhere: another plane or hand, or another origin. */
function otherPlaces({ solid, unit, decimals }: Reference, center: ReadCenter): readonly Idea[] {
  if (!center.every((read) => read !== null)) return [];
  const { centroidMm } = solid.massProperties;
  const isPlane = permuted(centroidMm).some((point) =>
    point.every(
      (value, axis) => Math.abs(value - (center[axis]?.value ?? 0)) <= 2 * LENGTH_MM + (center[axis]?.resolution ?? 0),
    ),
  );
  const unitMm = LENGTH_UNITS[unit];
  const text = (['X', 'Y', 'Z'] as const)
    .flatMap((axis, i) => {
      const by = ((center[i]?.value ?? 0) - (centroidMm[i] ?? 0)) / unitMm;
      return Math.abs(by) * unitMm < 2 * LENGTH_MM ? [] : [`${by.toFixed(decimals + 1)} ${unit} in ${axis}`];
    })
    .join(', ');
  const plane: Idea = {
    id: 'wrong-plane',
    prior: PRIORS.plane,
    apart: 0,
    message:
      'The volume is right, and the center of mass has the right numbers along other axes, or of other sign: the part lies on another plane than the sheet shows, or is of the wrong hand.',
  };
  const origin: Idea = {
    id: 'shifted-origin',
    prior: PRIORS.origin,
    apart: 1,
    message: `The volume is right and the center of mass is off by ${text}: the origin is not where the sheet says.`,
  };
  return isPlane ? [plane, origin] : [origin];
}

/**
 * What explains numbers that were read off a model nobody has seen: mistakes of the atlas, another material, the other
 * unit, another origin or plane. With a mass alone, the volume is that of the exercise's material.
 */
export function explainNumbers(reference: Reference, atlas: Atlas, numbers: Numbers): NumbersAnswer {
  const { densityGPerCm3, solid } = reference;
  const volume = numbers.volumeMm3 ?? volumeFrom(numbers.massG, densityGPerCm3);
  const center = numbers.centroidMm ?? [null, null, null];
  const right = { volumeMm3: solid.massProperties.volumeMm3, centroidMm: solid.massProperties.centroidMm };

  const misfit = misfitOf(volume, center);
  const massFits =
    numbers.massG === undefined ||
    numbers.volumeMm3 === undefined ||
    near(numbers.massG, massOf(numbers.volumeMm3.value, densityGPerCm3));
  if (misfit(right) <= WITHIN && massFits) return { right: true, causes: [] };

  const volumeRight =
    volume !== null &&
    Math.abs(volume.value - right.volumeMm3) <= Math.max(volume.resolution, right.volumeMm3 * SHARE) * WITHIN;
  const ideas: readonly Idea[] = [
    ...atlas.entries.map(({ mistake, fingerprint }) => ({
      id: mistake.id,
      prior: mistake.prior,
      apart: misfit(propertiesOf(fingerprint)),
      message: mistake.message,
      mistake,
    })),
    ...otherMaterials(numbers, right.volumeMm3, {
      densityGPerCm3,
      shapeFits: numbers.volumeMm3 === undefined || misfit(right) <= WITHIN,
    }),
    ...UNIT_WORDS.map(([factor, message]) => ({
      id: 'wrong-unit',
      prior: PRIORS.unit,
      apart: misfit({ volumeMm3: right.volumeMm3 * factor ** 3, centroidMm: scaled(right.centroidMm, factor) }),
      message,
    })),
    ...(volumeRight && misfit(right) > WITHIN ? otherPlaces(reference, center) : []),
  ];
  const causes = ideas
    .filter(({ apart }) => apart <= WITHIN)
    .map(({ id, prior, apart, message, mistake = null }) => ({
      id,
      weight: prior * Math.exp(-0.5 * apart ** 2),
      message,
      mistake,
    }));
  const sorted = causes.sort((a, b) => b.weight - a.weight).slice(0, MOST_CAUSES);
  const total = sorted.reduce((sum, { weight }) => sum + weight, 0) || 1;
  return {
    right: false,
    causes: sorted.map(({ weight, ...diagnosed }) => ({ ...diagnosed, certainty: 0.95 * (weight / total) })),
  };
}

const UNIT_WORDS: readonly (readonly [number, string])[] = [
  [25.4, 'Every length is 25.4 times too large: inches for millimeters.'],
  [1 / 25.4, 'Every length is 25.4 times too small: millimeters for inches.'],
  [10, 'Every length is 10 times too large: check the unit of the model.'],
  [0.1, 'Every length is 10 times too small: check the unit of the model.'],
];

const near = ({ value, resolution }: ReadNumber, wanted: number): boolean =>
  Math.abs(value - wanted) <= Math.max(resolution, Math.abs(wanted) * 4 * SHARE);

const volumeFrom = (mass: ReadNumber | undefined, densityGPerCm3: number): ReadNumber | null =>
  mass === undefined
    ? null
    : { value: (1000 * mass.value) / densityGPerCm3, resolution: (1000 * mass.resolution) / densityGPerCm3 };

const scaled = ([x, y, z]: Vec3, by: number): Vec3 => [x * by, y * by, z * by];

function propertiesOf([volume = 1, , x = 0, y = 0, z = 0]: Fingerprint): { volumeMm3: number; centroidMm: Vec3 } {
  return { volumeMm3: volume, centroidMm: [x / volume, y / volume, z / volume] };
}

/** A point along other axes, and with other signs. */
function permuted(point: Vec3): readonly Vec3[] {
  const orders = [
    [0, 1, 2],
    [0, 2, 1],
    [1, 0, 2],
    [1, 2, 0],
    [2, 0, 1],
    [2, 1, 0],
  ] as const;
  const signs = [1, -1] as const;
  return orders.flatMap(([a, b, c]) =>
    signs.flatMap((i) => signs.flatMap((k) => signs.map((m): Vec3 => [i * point[a], k * point[b], m * point[c]]))),
  );
}
