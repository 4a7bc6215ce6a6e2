import * as v from 'valibot';

import { WORKINGS, type Kept, type Saved, type Working, type WorkingKind } from '#api';
import type { Db } from '#server/db';

/** Of whom, and in which work. */
export interface WorkPlace {
  readonly assignmentId: number;
  readonly studentId: number;
  /** From 1. */
  readonly stage: number;
}

/** Somebody saved in another window. */
export interface SavedElsewhere {
  readonly kind: 'conflict';
  readonly version: number;
  readonly updatedAt: string;
}

export interface Workings {
  find<K extends WorkingKind>(kind: K, place: WorkPlace): Kept<K>;
  /** Keeps a document where nothing was kept since `version`. */
  save<K extends WorkingKind>(
    kind: K,
    place: WorkPlace,
    version: number,
    document: Working<K>,
  ): (Saved & { readonly kind: 'saved' }) | SavedElsewhere;
}

type Key = WorkPlace & { readonly kind: string };
interface Row {
  readonly version: number;
  readonly updatedAt: string;
  readonly documentJson: string;
}

/** What students keep between reading and handing in: of each kind one document for each stage of a work. */
export function createWorkings(db: Db, now: () => Date): Workings {
  const find = db.prepare<[Key], Row>(
    `SELECT version, updated_at AS updatedAt, document_json AS documentJson FROM workings
     WHERE assignment_id = @assignmentId AND student_id = @studentId AND stage = @stage AND kind = @kind`,
  );
  const put = db.prepare<[Key & Row]>(
    `INSERT INTO workings (assignment_id, student_id, stage, kind, version, document_json, updated_at)
     VALUES (@assignmentId, @studentId, @stage, @kind, @version, @documentJson, @updatedAt)
     ON CONFLICT DO UPDATE SET version = excluded.version, document_json = excluded.document_json,
       updated_at = excluded.updated_at`,
  );
  return {
    find<K extends WorkingKind>(kind: K, place: WorkPlace): Kept<K> {
      const row = find.get({ ...place, kind });
      if (row === undefined) return { version: 0, updatedAt: null, document: null };
      const document = v.safeParse(WORKINGS[kind], JSON.parse(row.documentJson));
      return {
        version: row.version,
        updatedAt: row.updatedAt,
        // What an earlier program kept in another form is begun anew.
        document: document.success ? document.output : null,
      };
    },
    save: db.transaction((kind: WorkingKind, place: WorkPlace, version: number, document: Working<WorkingKind>) => {
      const before = find.get({ ...place, kind });
      if ((before?.version ?? 0) !== version)
        return { kind: 'conflict' as const, version: before?.version ?? 0, updatedAt: before?.updatedAt ?? '' };
      const updatedAt = now().toISOString();
      const next = { version: version + 1, updatedAt };
      put.run({ ...place, kind, ...next, documentJson: JSON.stringify(document) });
      return { kind: 'saved' as const, ...next };
    }),
  };
}
