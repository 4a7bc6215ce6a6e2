/** Practice measuring: a student's own model, before anything is handed in. */
export { BeforeHandIn } from './before-hand-in.tsx';
export { useInspection } from './inspection.ts';
export { RoundPage } from './round-page.tsx';
export { MeasuringPage } from './page.tsx';
