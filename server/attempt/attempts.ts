/** Attempts: handing in as a student, reading reports as student or instructor. */
import type { WorkDetail, WorkItem } from '#api';
import { createVariants } from '#server/assignment';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import type { Queue } from '#server/jobs';
import type { Practice } from '#server/practice';
import type { Reviews } from '#server/review';

import { createAccess } from './access.ts';
import { createDetails, type Details } from './detail.ts';
import { createHandIn, type HandIn } from './hand-in.ts';
import { createAttemptStore } from './rows.ts';
import { createSheets, type Sheets } from './sheets.ts';
import { createWork } from './work.ts';

export interface Attempts extends Sheets, Details {
  readonly handIn: HandIn;
  workOf(studentId: number): WorkItem[];
  /** The work of a student in one stage of it; where none is asked for, the last one that is open. */
  workDetail(assignmentId: number, studentId: number, stage?: number): WorkDetail | null;
}

export interface AttemptsParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly queue: Queue;
  readonly now: () => Date;
  readonly reviewOf: Reviews['reviewOf'];
  readonly practice: Pick<Practice, 'rounds' | 'workings'>;
}

export function createAttempts({ db, files, queue, now, reviewOf, practice }: AttemptsParts): Attempts {
  const store = createAttemptStore(db);
  const variants = createVariants(db);
  const access = createAccess(db, store, now);
  const sheets = createSheets({ db, store, access, variants });
  const work = createWork({ store, access, variants, now });
  return {
    handIn: createHandIn({ db, files, queue, now, store, access, variants, sheets, ...practice }),
    workOf: (studentId) => work.list(studentId),
    workDetail: (assignmentId, studentId, stage) => work.detail(assignmentId, studentId, stage),
    ...sheets,
    ...createDetails({ store, access, variants, work, now, reviewOf, workings: practice.workings }),
  };
}
