/** Planning a part before it is built: steps, their order and the sizes that they take. */
export { PlanningPage } from './page.tsx';
