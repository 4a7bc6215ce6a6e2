import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import { CheckSchema } from '#core/check';
import { cleatPlateExercise } from '#demo/exercises';

import { checkFromFaces, PICKABLE_KINDS } from './new-check.ts';

describe('a check made by picking', () => {
  it.each(PICKABLE_KINDS.map((kind) => [kind]))('of kind "%s" is sound', (kind) => {
    const check = checkFromFaces(kind, ['base.left', 'base.right', 'base.end'], cleatPlateExercise);
    expect(v.safeParse(CheckSchema, check).success).toBe(true);
    expect(cleatPlateExercise.checks.map(({ id }) => id)).not.toContain(check.id);
  });

  it('takes half of the last decimal of the sheet as its tolerance, and an id that is free', () => {
    const first = checkFromFaces('distance', ['base.left', 'base.right'], cleatPlateExercise);
    expect(first).toMatchObject({ tolerance: '0.05', from: 'base.left', to: 'base.right' });
    const second = checkFromFaces('distance', ['base.left', 'base.right'], {
      ...cleatPlateExercise,
      checks: [...cleatPlateExercise.checks, first],
    });
    expect(second.id).not.toBe(first.id);
  });
});
