import * as v from 'valibot';

import { gradeFile, prepareExercise } from '#core/attempt';
import { MeasurementSchema } from '#core/check';
import { gradeMeasurement } from '#core/grade';
import { unwrap } from '#core/problem';
import { demoExercises } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const CLASS = 120;

/** What another policy costs for a class: reading what was measured, and scoring it. The baseline is measuring one anew. */
export async function benchScore(): Promise<void> {
  const kernel = await loadKernel();
  const rows = demoExercises.map((exercise) => {
    const { reference } = unwrap(prepareExercise(kernel, exercise));
    const { step } = unwrap(modelLikeStudent(kernel, exercise, { kind: 'none' }));
    const grade = () => unwrap(gradeFile(kernel, reference, { bytes: step, policy: exercise.scoring }));
    const stored = JSON.stringify(grade().measurement);
    const policy = {
      ...exercise.scoring,
      shares: { dimensions: 70, features: 10, properties: 10, 'model-quality': 10 },
    };
    const once = median(timed(() => void grade(), 5, 1));
    const all = median(
      timed(
        () => {
          for (let i = 0; i < CLASS; i++)
            gradeMeasurement(reference, v.parse(MeasurementSchema, JSON.parse(stored)), { typed: [], policy });
        },
        3,
        1,
      ),
    );
    return [exercise.title, ms(once), ms(all), (once * CLASS > 0 ? (once * CLASS) / all : 0).toFixed(0)];
  });
  printTable(
    'Scoring a class of 120 by another policy, ms',
    ['part', 'measuring one', 'scoring 120', 'times faster'],
    rows,
  );
}
