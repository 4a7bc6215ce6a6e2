import type { ExerciseDetail } from '#api';

type Target = ExerciseDetail['targets'][number];

/** Faces of the reference that a check is about. */
export function facesOfTarget(target: Target): readonly number[] {
  switch (target.kind) {
    case 'distance':
    case 'center-distance':
      return [...target.fromFaceIds, ...target.toFaceIds];
    case 'diameter':
    case 'radius':
      return target.members.flat();
    case 'hole-position':
      return [...target.faceIds, ...target.fromFaceIds];
    case 'hole-count':
      return target.faceIds;
    default:
      return [];
  }
}
