/** Lists of students as schools keep them: reading one, and comparing it with who is there. */
export { readRoster, type RosterLine, type RosterReading } from './read.ts';
export { compareRoster, type KnownPerson, type RosterComparison, type RosterEntry } from './compare.ts';
export { loginFor } from './login.ts';
export { readListFile, type ListFile } from './list-file.ts';
export { listOfClass, readOneRoster, type RosterClass } from './one-roster.ts';
