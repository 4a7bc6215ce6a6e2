/** Copies of the data folder that can be put back, and whether a data folder is whole. */
export { backUp, type BackupNote } from './backup.ts';
export { checkFolder, type FolderCheck } from './check.ts';
export { createDailyBackup, backupSettings, type BackupSettings, type DailyBackup } from './daily.ts';
export { restore } from './restore.ts';
