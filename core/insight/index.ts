/** What the attempts of a class say together: weeks, exercises, how hard a check is, and whether it tells good work from bad. */
export { checkFigures, type CheckFigures, type CheckSums } from './checks.ts';
export { exerciseFigures, type ExerciseFigures, type OfStudent } from './exercises.ts';
export { weeksOf, type Week, type WeekAttempt } from './weeks.ts';
export { median, quantile } from './statistics.ts';
