/** Codes of SQLite and of the system for a disk that takes nothing more, whatever the reason. */
const UNWRITABLE = new Set([
  'SQLITE_FULL',
  'SQLITE_READONLY',
  'SQLITE_IOERR_WRITE',
  'SQLITE_IOERR_FSYNC',
  'ENOSPC',
  'EDQUOT',
  'EROFS',
]);

/** Whether something failed because the disk is full, or cannot be written to: nothing is wrong with what was to be done. */
export function isUnwritable(error: unknown): boolean {
  const code = (error as { readonly code?: unknown } | null)?.code;
  return typeof code === 'string' && (UNWRITABLE.has(code) || code.startsWith('SQLITE_READONLY'));
}
