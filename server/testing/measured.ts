/** A school whose attempts were really measured: a cleat plate that is 10.3 mm thick for 10. */
import { gradeFile, prepareExercise, type GradedFile } from '#core/attempt';
import type { Reference } from '#core/check';
import { unwrap } from '#core/problem';
import { forDisplay } from '#core/solid';
import { cleatPlateExercise } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

import { openSchool, type School } from './fixture.ts';

interface Measured {
  readonly reference: Reference;
  readonly wrong: GradedFile;
}

async function measure(): Promise<Measured> {
  const kernel = await loadKernel();
  const { reference } = unwrap(prepareExercise(kernel, cleatPlateExercise));
  const handIn = unwrap(
    modelLikeStudent(kernel, cleatPlateExercise, { kind: 'size-wrong', parameter: 'C', value: '10.3' }),
  );
  return {
    reference,
    wrong: unwrap(gradeFile(kernel, reference, { bytes: handIn.step, policy: cleatPlateExercise.scoring })),
  };
}
let measured: Promise<Measured> | null = null;
/** Made once. */
export const thickPlate = (): Promise<Measured> => (measured ??= measure());

/** The first attempt is ansel's; every file is graded as the thick plate. */
export async function openMeasuredSchool(): Promise<School> {
  const { reference, wrong } = await thickPlate();
  const { measurement, report, solid } = wrong;
  const modelJson = JSON.stringify({ bounds: solid.bounds, mesh: forDisplay(solid.mesh) });
  const school = await openSchool(() => ({
    kind: 'done',
    value: { measurement, report, diagnosis: null, modelJson, overlayJson: null },
  }));
  const { sha256 } = await school.files.put(Buffer.from(JSON.stringify(reference)));
  school.db.prepare('UPDATE exercise_revisions SET reference_sha256 = ?').run(sha256);
  await school.handIn('ansel', school.assignmentId, 'a model');
  await school.queue.idle();
  return school;
}
