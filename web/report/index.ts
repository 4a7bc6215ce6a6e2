/** A report on the page: model, causes, checks, typed numbers. */
export { ReportView } from './view.tsx';
