/** A student's own notes of when work was begun and paused. */
export { TimePanel } from './panel.tsx';
export { useTimeLog } from './time-log.ts';
