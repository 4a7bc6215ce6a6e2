/** Zip archives of strangers: what is in them, and their content a piece at a time, counted as it comes. */
export { ArchiveFault, entriesOf, isZip, unpack, unpackWhole, type ArchiveEntry } from './archive.ts';
