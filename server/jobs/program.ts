import program from '../../package.json' with { type: 'json' };

/** The program that a score was made by. */
export const PROGRAM_VERSION: string = program.version;
