/** Practice measuring: a student's own model, before anything is handed in. */
export { MeasuringPage } from './page.tsx';
