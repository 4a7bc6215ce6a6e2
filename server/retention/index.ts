/** The work of students is kept until the day that their course says, and erased after it. */
import type { Logger } from 'pino';

import { dayIn } from '#core/time';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';

import { createForgetting } from './forget.ts';

export interface Retention {
  /** Looks now and then whether the day of a course is over, as long as it is not stopped. */
  start(): void;
  /** Erases what is due now; gives in how many courses. */
  look(): number;
  stop(): void;
}

export interface RetentionParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly log: Logger;
  readonly now: () => Date;
}

const LOOK_EVERY_MS = 3_600_000;

interface DueCourse {
  readonly id: number;
  readonly title: string;
  readonly keepUntil: string;
  readonly timeZone: string;
}

export function createRetention({ db, audit, log, now }: RetentionParts): Retention {
  const kept = db.prepare<[], DueCourse>(
    `SELECT id, title, keep_until AS keepUntil, coalesce(time_zone, 'UTC') AS timeZone FROM courses
     WHERE keep_until IS NOT NULL AND forgotten_at IS NULL`,
  );
  const setForgotten = db.prepare<[string, string, number]>(
    'UPDATE courses SET forgotten_at = ?, archived_at = coalesce(archived_at, ?) WHERE id = ?',
  );
  const forget = createForgetting(db);
  let clock: NodeJS.Timeout | undefined;

  function look(): number {
    let count = 0;
    const time = now().toISOString();
    for (const { id, title, keepUntil, timeZone } of kept.all()) {
      // The day itself is still kept.
      if (dayIn(time, timeZone) <= keepUntil) continue;
      const forgotten = db.transaction(() => {
        const done = forget(id);
        if (done === null) return null;
        setForgotten.run(time, time, id);
        audit.note({ by: null, courseId: id, what: 'work of students erased', subject: title, after: done });
        return done;
      })();
      if (forgotten === null) continue;
      count++;
      log.info({ courseId: id, ...forgotten }, 'the work of a course was kept until its day, and is erased');
    }
    return count;
  }

  const safely = (): void => {
    try {
      look();
    } catch (error) {
      log.error({ error: String(error) }, 'erasing what was kept long enough failed; it is tried again');
    }
  };
  return {
    look,
    start() {
      clock = setInterval(safely, LOOK_EVERY_MS).unref();
      safely();
    },
    stop() {
      clearInterval(clock);
    },
  };
}
