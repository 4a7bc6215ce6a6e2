/** The 3D view of a part. */
export { ModelView, PartView } from './part-view.tsx';
