import { createHash } from 'node:crypto';

/** How a secret of a browser or a person is stored: nobody can use what is read from the database. */
export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex');
