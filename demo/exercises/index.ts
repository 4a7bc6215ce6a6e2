/** The exercises of the made-up Saltmarsh Boatbuilding School. */
import { parseExercise, type Exercise } from '#core/exercise';
import { unwrap } from '#core/problem';

import bowRollerCheek from './bow-roller-cheek.json' with { type: 'json' };
import cleatPlate from './cleat-plate.json' with { type: 'json' };
import cowlAdaptor from './cowl-adaptor.json' with { type: 'json' };
import fairleadBlock from './fairlead-block.json' with { type: 'json' };
import gudgeonBracket from './gudgeon-bracket.json' with { type: 'json' };
import mastStep from './mast-step.json' with { type: 'json' };
import pumpCover from './pump-cover.json' with { type: 'json' };
import rowlockSocket from './rowlock-socket.json' with { type: 'json' };
import stanchionBase from './stanchion-base.json' with { type: 'json' };
import strutBearing from './strut-bearing.json' with { type: 'json' };
import tillerPin from './tiller-pin.json' with { type: 'json' };
import winchDrum from './winch-drum.json' with { type: 'json' };

const read = (document: unknown): Exercise => unwrap(parseExercise(document));

export const cleatPlateExercise = read(cleatPlate);
export const fairleadBlockExercise = read(fairleadBlock);
export const tillerPinExercise = read(tillerPin);
export const pumpCoverExercise = read(pumpCover);
export const stanchionBaseExercise = read(stanchionBase);
export const winchDrumExercise = read(winchDrum);
export const gudgeonBracketExercise = read(gudgeonBracket);
export const rowlockSocketExercise = read(rowlockSocket);
export const strutBearingExercise = read(strutBearing);
export const bowRollerCheekExercise = read(bowRollerCheek);
export const cowlAdaptorExercise = read(cowlAdaptor);
export const mastStepExercise = read(mastStep);

/** The four that the simulated students work on, and whose mistakes are told in tests. */
export const firstExercises: readonly Exercise[] = [
  cleatPlateExercise,
  fairleadBlockExercise,
  winchDrumExercise,
  gudgeonBracketExercise,
];

/** All of them, from easy to hard. */
export const demoExercises: readonly Exercise[] = [
  cleatPlateExercise,
  fairleadBlockExercise,
  tillerPinExercise,
  pumpCoverExercise,
  stanchionBaseExercise,
  winchDrumExercise,
  gudgeonBracketExercise,
  rowlockSocketExercise,
  strutBearingExercise,
  bowRollerCheekExercise,
  cowlAdaptorExercise,
  mastStepExercise,
];
