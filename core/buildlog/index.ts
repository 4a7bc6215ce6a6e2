/** Lists of build steps that students hand in: read, and compared with what their part shows. */
export { MAX_LOG_LENGTH, readBuildLog, type BuildLog, type LoggedStep } from './read.ts';
