import { describe, expect, it } from 'vitest';

import type { ExerciseDetail } from '#api';

import { facesOfTarget } from './faces.ts';

type Target = ExerciseDetail['targets'][number];

const base = {
  checkId: 'c',
  label: 'Check',
  group: 'dimensions',
  weight: 1,
  nominal: 1,
  tolerance: 0.1,
  expression: '1',
} as const;

describe('choosing a check marks the faces it is about', () => {
  it.each([
    ['both sides of a distance', { ...base, kind: 'distance', fromFaceIds: [1], toFaceIds: [4, 5] }, [1, 4, 5]],
    ['every round that shares a diameter', { ...base, kind: 'diameter', members: [[2], [3], [7]] }, [2, 3, 7]],
    ['hole and edge of a position', { ...base, kind: 'hole-position', faceIds: [2], fromFaceIds: [0] }, [2, 0]],
    ['all holes of a count', { ...base, kind: 'hole-count', diameterMm: 9, faceIds: [2, 3] }, [2, 3]],
    ['nothing for the volume', { ...base, kind: 'volume' }, []],
  ] as [string, Target, number[]][])('%s', (_name, target, faces) => {
    expect(facesOfTarget(target)).toEqual(faces);
  });
});
