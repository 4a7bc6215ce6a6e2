import { expect, it } from 'vitest';

import { findMaterial, massOf, MATERIALS } from '#core/material';

it('every material has a name of its own, a usual density and its source', () => {
  expect(new Set(MATERIALS.map((material) => material.id)).size).toBe(MATERIALS.length);
  for (const { densityGPerCm3, source } of MATERIALS) {
    expect(densityGPerCm3).toBeGreaterThan(0.9);
    expect(densityGPerCm3).toBeLessThan(9);
    expect(source).not.toBe('');
  }
});

it('a liter of carbon steel weighs 7.85 kg', () => {
  expect(massOf(1e6, findMaterial('steel-carbon')?.densityGPerCm3 ?? 0)).toBeCloseTo(7850, 9);
});
