import { describe, expect, it } from 'vitest';

import { unwrap } from '#core/problem';
import { SHOP_SUMS } from '#core/shopsum';

const DEG = Math.PI / 180;
const of = (id: string, values: Readonly<Record<string, number>>) => {
  const sum = SHOP_SUMS.find((one) => one.id === id);
  if (sum === undefined) throw new Error(`no sum ${id}`);
  return sum.work(values);
};
const value = (id: string, values: Readonly<Record<string, number>>, label: string): number =>
  unwrap(of(id, values)).find((row) => row.label === label)?.value ?? Number.NaN;

describe('sums of the workshop', () => {
  it('an M10 thread of 1.5 mm has a minor diameter of 8.376 and a tap drill of 8.5, as tables of threads say', () => {
    expect(value('thread', { major: 10, pitch: 1.5 }, 'Minor diameter of the nut')).toBeCloseTo(8.376, 3);
    expect(value('thread', { major: 10, pitch: 1.5 }, 'Pitch diameter')).toBeCloseTo(9.026, 3);
    expect(value('thread', { major: 10, pitch: 1.5 }, 'Tap drill')).toBe(8.5);
  });

  it('a quarter inch thread with 20 to the inch has a minor diameter of .1959 in', () => {
    const inch = 25.4;
    const minor = value('thread', { major: 0.25 * inch, pitch: inch / 20 }, 'Minor diameter of the nut');
    expect(minor / inch).toBeCloseTo(0.1959, 4);
  });

  it('a chamfer of 3 at 30° takes off 3 / √3 from the other side; its slope is 6 / √3 long', () => {
    expect(value('chamfer', { leg: 3, angle: 30 * DEG }, 'Second leg')).toBeCloseTo(3 / Math.sqrt(3), 9);
    expect(value('chamfer', { leg: 3, angle: 30 * DEG }, 'Along the slope')).toBeCloseTo(6 / Math.sqrt(3), 9);
  });

  it('a taper from 20 to 10 over 50 is 1 in 5, with tan(angle to the axis) = 5 / 50', () => {
    expect(value('taper', { large: 20, small: 10, length: 50 }, 'Taper 1 in')).toBe(5);
    expect(value('taper', { large: 20, small: 0, length: 10 }, 'Angle from side to side')).toBeCloseTo(90 * DEG, 9);
    expect(Math.tan(value('taper', { large: 20, small: 10, length: 50 }, 'Angle to the axis'))).toBeCloseTo(0.1, 12);
  });

  it('four holes on 50 from 45° lie at half of 50 over √2 each way; neighbors are 50 / √2 apart', () => {
    const asked = { diameter: 50, count: 4, start: 45 * DEG };
    expect(value('bolt-circle', asked, 'Hole 1, X')).toBeCloseTo(25 / Math.SQRT2, 9);
    expect(value('bolt-circle', asked, 'Hole 2, X')).toBeCloseTo(-25 / Math.SQRT2, 9);
    expect(value('bolt-circle', asked, 'Hole 2, Y')).toBeCloseTo(25 / Math.SQRT2, 9);
    expect(value('bolt-circle', { diameter: 50, count: 2, start: 0 }, 'Hole 2, X')).toBeCloseTo(-25, 9);
    expect(value('bolt-circle', asked, 'From hole to hole')).toBeCloseTo(50 / Math.SQRT2, 9);
  });

  it('a round of radius 10 in a V of 60° has its center 20 above the bottom, and touches 10 √3 up each side', () => {
    expect(value('in-groove', { radius: 10, angle: 60 * DEG }, 'Center above the bottom of the V')).toBeCloseTo(20, 9);
    const touch = value('in-groove', { radius: 10, angle: 60 * DEG }, 'Where it touches, along each side');
    expect(touch).toBeCloseTo(10 * Math.sqrt(3), 9);
    expect(value('in-groove', { radius: 10, angle: 60 * DEG }, 'Top of the round above it')).toBeCloseTo(30, 9);
  });

  it('a hexagon of 13 across flats is 15.01 across corners; a slope of 45° is as high as it is long', () => {
    expect(value('hexagon', { flats: 13 }, 'Across corners')).toBeCloseTo(15.011, 3);
    expect(value('hexagon', { flats: 13 }, 'Length of a side')).toBeCloseTo(7.506, 3);
    expect(value('triangle', { base: 7, angle: 45 * DEG }, 'Height')).toBeCloseTo(7, 9);
    expect(value('triangle', { base: 6, angle: 60 * DEG }, 'Along the slope')).toBeCloseTo(12, 9);
  });

  it('ten cubic centimeters of 2.7 g/cm³ weigh 27 g', () => {
    expect(value('mass', { volume: 10_000, density: 2.7 }, 'Mass')).toBeCloseTo(27, 9);
  });

  it.each([
    ['chamfer', { leg: 3, angle: 90 * DEG }],
    ['taper', { large: 10, small: 20, length: 5 }],
    ['bolt-circle', { diameter: 50, count: 2.5, start: 0 }],
    ['thread', { major: 2, pitch: 1.5 }],
    ['hexagon', { flats: 0 }],
    ['in-groove', { radius: 10, angle: Math.PI }],
    ['triangle', { base: Number.NaN, angle: 0.5 }],
    ['mass', { volume: 0, density: 1 }],
    ['chamfer', { leg: 0, angle: 45 * DEG }],
    ['chamfer', { leg: 3, angle: 0 }],
    ['chamfer', {}],
    ['triangle', { base: 0, angle: 45 * DEG }],
    ['triangle', { base: 5, angle: 0 }],
    ['taper', { large: 20, small: 10, length: 0 }],
    ['taper', { large: 20, small: -1, length: 5 }],
    ['taper', { large: 20, small: 20, length: 5 }],
    ['bolt-circle', { diameter: 0, count: 4, start: 0 }],
    ['bolt-circle', { diameter: 50, count: 1, start: 0 }],
    ['bolt-circle', { diameter: 50, count: 61, start: 0 }],
    ['thread', { major: 10, pitch: 0 }],
    ['in-groove', { radius: 0, angle: 1 }],
    ['in-groove', { radius: 5, angle: 0 }],
    ['mass', { volume: 10, density: 0 }],
  ])('%s says what is wrong with numbers that give no sense', (id, values) => {
    expect(of(id, values)).toMatchObject({ ok: false, problem: { code: 'bad-input' } });
  });
});
