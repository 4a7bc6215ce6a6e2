/** Limits that page and server agree on. */
export const MAX_FILE_BYTES = 25 * 1024 * 1024;
/** Longest time that one attempt may take. */
export const MAX_GRADING_SECONDS = 60;
