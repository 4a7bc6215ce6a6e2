/** Lists of build steps on the page, as they are understood. */
export { BuildLogReading } from './lazy.tsx';
