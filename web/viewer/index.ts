/** The 3D view of a part. */
export { PartView } from './part-view.tsx';
