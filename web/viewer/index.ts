/** The 3D view of a part. */
export { ModelView, PartView } from './part-view.tsx';
export type { ScenePin } from './scene.ts';
