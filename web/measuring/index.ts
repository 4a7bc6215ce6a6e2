/** Practice measuring: a student's own model, before anything is handed in. */
export { BeforeHandIn } from './before-hand-in.tsx';
export { useInspection } from './inspection.ts';
export { MeasuringPage } from './page.tsx';
