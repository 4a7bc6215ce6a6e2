import { readFile, rm } from 'node:fs/promises';
import path from 'node:path';

import type { User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { bundle, type BundleEntry } from '#server/archive';
import type { Audit } from '#server/audit';
import { staffMay } from '#server/auth';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import { PROGRAM_VERSION, type Runner } from '#server/jobs';

import { ABOUT, ABOUT_TEXT, DATABASE, FILES, NOTE, type TermNote } from './note.ts';

export interface TermArchive {
  readonly name: string;
  readonly content: ReadableStream<Uint8Array>;
}

export interface TermArchives {
  /**
   * A course with its exercises, people and work as a zip that opens again read-only; null for who does not manage it.
   * Refuses with `too-large` what such a zip cannot hold, and with `not-printed` where it could not be made now.
   */
  make(courseId: number, by: User): Promise<Result<TermArchive> | null>;
}

export interface TermArchivesParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly runner: Pick<Runner, 'cutTerm'>;
  readonly audit: Audit;
  readonly now: () => Date;
}

/** What a zip can hold and a machine can open at once. */
const MOST_BYTES = 1_900_000_000;
const MOST_FILES = 60_000;
const TOO_LARGE =
  'The work of this course is too large for one archive. Keep a backup of the whole server instead: zorvet backup.';

export function createTermArchives({ db, files, runner, audit, now }: TermArchivesParts): TermArchives {
  const managed = db.prepare<[number, number], TermNote['course']>(
    `SELECT courses.id, title, term, school FROM courses JOIN course_staff ON course_staff.course_id = courses.id
     WHERE courses.id = ? AND user_id = ? AND ${staffMay('manage-course')}`,
  );
  const sizeOf = db.prepare<[string], number>('SELECT size_bytes FROM files WHERE sha256 = ?').pluck();

  function* entriesOf(note: TermNote, target: string, stored: readonly string[]): Generator<BundleEntry> {
    const text = async (content: string): Promise<Uint8Array> => Promise.resolve(new TextEncoder().encode(content));
    try {
      yield { name: NOTE, content: () => text(`${JSON.stringify(note, null, 2)}\n`) };
      yield { name: ABOUT, content: () => text(ABOUT_TEXT) };
      yield { name: DATABASE, content: () => readFile(target) };
      for (const sha256 of stored)
        yield { name: `${FILES}/${sha256.slice(0, 2)}/${sha256}`, content: () => files.read(sha256) };
    } finally {
      void rm(target, { force: true });
    }
  }

  return {
    async make(courseId, by) {
      const course = managed.get(courseId, by.id);
      if (course === undefined) return null;
      // In the folder whose content the next start clears away.
      const target = path.join(files.root, 'incoming', `term-${String(courseId)}-${String(now().getTime())}.sqlite`);
      const outcome = await runner.cutTerm({ database: db.name, target, courseId });
      if (outcome.kind !== 'done') {
        await rm(target, { force: true });
        return refuse('not-printed', 'The archive could not be made now. Try again when less is being measured.');
      }
      const { schema, files: stored } = outcome.value;
      const bytes = stored.reduce((sum, sha256) => sum + (sizeOf.get(sha256) ?? 0), 0);
      if (bytes > MOST_BYTES || stored.length > MOST_FILES) {
        await rm(target, { force: true });
        return refuse('too-large', TOO_LARGE);
      }
      const note: TermNote = {
        format: 'zorvet-term',
        version: 1,
        madeAt: now().toISOString(),
        program: PROGRAM_VERSION,
        schema,
        course,
        files: stored.length,
      };
      audit.note({ by, courseId, what: 'archive of the term', subject: course.title });
      const name = [course.title, course.term, 'archive.zip'].filter(Boolean).join(' ');
      return succeed({ name, content: bundle(entriesOf(note, target, stored), { whole: true }) });
    },
  };
}
