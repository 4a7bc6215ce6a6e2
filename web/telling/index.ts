/** When answers and reports reach students, and how much they tell: the words of the choices. */
export { ANSWERS, DEGREES, feedbackOf, optionsOf, RELEASES } from './words.tsx';
export { AidsFields } from './aids.tsx';
