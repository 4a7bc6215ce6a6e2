/** The exercises of the made-up Saltmarsh Boatbuilding School. */
import * as v from 'valibot';

import { ExerciseSchema, type Exercise } from '#core/exercise';

import cleatPlate from './cleat-plate.json' with { type: 'json' };
import fairleadBlock from './fairlead-block.json' with { type: 'json' };
import gudgeonBracket from './gudgeon-bracket.json' with { type: 'json' };
import winchDrum from './winch-drum.json' with { type: 'json' };

export const cleatPlateExercise: Exercise = v.parse(ExerciseSchema, cleatPlate);
export const fairleadBlockExercise: Exercise = v.parse(ExerciseSchema, fairleadBlock);
export const winchDrumExercise: Exercise = v.parse(ExerciseSchema, winchDrum);
export const gudgeonBracketExercise: Exercise = v.parse(ExerciseSchema, gudgeonBracket);

export const demoExercises: readonly Exercise[] = [
  cleatPlateExercise,
  fairleadBlockExercise,
  winchDrumExercise,
  gudgeonBracketExercise,
];
