import { massOf } from '#core/material';
import { refuse, succeed, type Result } from '#core/problem';

import type { ShopSum, SumInput, SumQuantity, SumRow } from './sum.ts';

const input = (id: string, label: string, quantity: SumQuantity = 'length'): SumInput => ({ id, label, quantity });
const row = (label: string, value: number, quantity: SumQuantity = 'length'): SumRow => ({ label, quantity, value });
const nonsense = (message: string): Result<never> => refuse('bad-input', message);

/** Height of the sharp triangle of a 60° thread over its pitch: ISO 68-1, and ASME B1.1 for inch threads. */
const SHARP_HEIGHT = Math.sqrt(3) / 2;

const chamfer: ShopSum = {
  id: 'chamfer',
  title: 'Chamfer: the second leg',
  source: 'The second leg is the first times the tangent of the angle between the first leg and the slope.',
  inputs: [input('leg', 'First leg'), input('angle', 'Angle at the first leg', 'angle')],
  work: ({ leg = 0, angle = 0 }) =>
    leg > 0 && angle > 0 && angle < Math.PI / 2
      ? succeed([row('Second leg', leg * Math.tan(angle)), row('Along the slope', leg / Math.cos(angle))])
      : nonsense('The leg must be more than nothing, the angle between 0° and 90°.'),
};

const taper: ShopSum = {
  id: 'taper',
  title: 'Taper: angle and ratio',
  source: 'Half of the difference of the diameters over the length is the tangent of the angle to the axis.',
  inputs: [input('large', 'Large diameter'), input('small', 'Small diameter'), input('length', 'Length')],
  work: ({ large = 0, small = 0, length = 0 }) => {
    if (!(length > 0) || !(large > small) || small < 0)
      return nonsense('The first diameter must be the larger one, and the length more than nothing.');
    const half = Math.atan((large - small) / 2 / length);
    return succeed([
      row('Angle to the axis', half, 'angle'),
      row('Angle from side to side', 2 * half, 'angle'),
      row('Taper 1 in', length / (large - small), 'count'),
    ]);
  },
};

const boltCircle: ShopSum = {
  id: 'bolt-circle',
  title: 'Bolt circle: where the holes are',
  source: 'Each place is the radius times cosine and sine of its angle, counted from the X axis, counterclockwise.',
  inputs: [
    input('diameter', 'Diameter of the circle'),
    input('count', 'Number of holes', 'count'),
    input('start', 'Angle of the first', 'angle'),
  ],
  work: ({ diameter = 0, count = 0, start = 0 }) => {
    if (!(diameter > 0) || !Number.isInteger(count) || count < 2 || count > 60)
      return nonsense('A bolt circle has a diameter, and from 2 to 60 holes.');
    const places = Array.from({ length: count }, (_, i) => start + (2 * Math.PI * i) / count);
    return succeed([
      ...places.flatMap((angle, i) => [
        row(`Hole ${String(i + 1)}, X`, (diameter / 2) * Math.cos(angle)),
        row(`Hole ${String(i + 1)}, Y`, (diameter / 2) * Math.sin(angle)),
      ]),
      row('From hole to hole', diameter * Math.sin(Math.PI / count)),
    ]);
  },
};

const thread: ShopSum = {
  id: 'thread',
  title: 'Thread: minor diameter and tap drill',
  source:
    'Of a 60° thread: pitch diameter = major - 3/4 H, minor = major - 5/4 H with H = 0.866 pitch (ISO 68-1; ASME B1.1 for inch threads, whose pitch is 1 over the threads per inch). Tap drill = major - pitch.',
  inputs: [input('major', 'Major diameter'), input('pitch', 'Pitch')],
  work: ({ major = 0, pitch = 0 }) =>
    pitch > 0 && major > 2 * pitch
      ? succeed([
          row('Tap drill', major - pitch),
          row('Minor diameter of the nut', major - 1.25 * SHARP_HEIGHT * pitch),
          row('Pitch diameter', major - 0.75 * SHARP_HEIGHT * pitch),
        ])
      : nonsense('The pitch must be more than nothing, and less than half of the diameter.'),
};

const hexagon: ShopSum = {
  id: 'hexagon',
  title: 'Hexagon: flats and corners',
  source: 'Across corners is across flats times 2 over the square root of 3.',
  inputs: [input('flats', 'Across flats')],
  work: ({ flats = 0 }) =>
    flats > 0
      ? succeed([row('Across corners', (2 * flats) / Math.sqrt(3)), row('Length of a side', flats / Math.sqrt(3))])
      : nonsense('The width must be more than nothing.'),
};

const inGroove: ShopSum = {
  id: 'in-groove',
  title: 'Round in a V: height of its center',
  source:
    'A circle that touches both sides has its center the radius over the sine of half of the angle above the bottom.',
  inputs: [input('radius', 'Radius'), input('angle', 'Angle of the V', 'angle')],
  work: ({ radius = 0, angle = 0 }) => {
    if (!(radius > 0) || !(angle > 0) || !(angle < Math.PI))
      return nonsense('The radius must be more than nothing, the angle between 0° and 180°.');
    const center = radius / Math.sin(angle / 2);
    return succeed([
      row('Center above the bottom of the V', center),
      row('Top of the round above it', center + radius),
      row('Where it touches, along each side', radius / Math.tan(angle / 2)),
    ]);
  },
};

const triangle: ShopSum = {
  id: 'triangle',
  title: 'Slope: height and length',
  source: 'Height is length along the base times the tangent of the angle.',
  inputs: [input('base', 'Along the base'), input('angle', 'Angle to the base', 'angle')],
  work: ({ base = 0, angle = 0 }) =>
    base > 0 && angle > 0 && angle < Math.PI / 2
      ? succeed([row('Height', base * Math.tan(angle)), row('Along the slope', base / Math.cos(angle))])
      : nonsense('The base must be more than nothing, the angle between 0° and 90°.'),
};

const mass: ShopSum = {
  id: 'mass',
  title: 'Mass: from volume and material',
  source: 'Volume times density.',
  inputs: [input('volume', 'Volume', 'volume'), input('density', 'Density', 'density')],
  work: ({ volume = 0, density = 0 }) =>
    volume > 0 && density > 0
      ? succeed([row('Mass', massOf(volume, density), 'mass')])
      : nonsense('Volume and density must be more than nothing.'),
};

/** The sums that a sheet leaves to whoever builds the part, in the order in which they are offered. */
export const SHOP_SUMS: readonly ShopSum[] = [chamfer, triangle, taper, boltCircle, thread, hexagon, inGroove, mass];
