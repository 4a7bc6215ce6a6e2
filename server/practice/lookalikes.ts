import * as v from 'valibot';

import type { Exercise, Variant } from '#core/exercise';
import { LookalikesSchema, type Lookalikes } from '#core/lookalike';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import type { Runner } from '#server/jobs';

/** A part as a student has it: the document of its stage, with the own values. */
export interface DrawnAs {
  readonly referenceSha256: string;
  readonly exercise: Exercise;
  readonly values: Variant['values'];
}

export interface LookalikesParts {
  readonly db: Db;
  readonly now: () => Date;
  readonly files: Pick<FileStore, 'pathOf'>;
  readonly runner: Pick<Runner, 'lookalikes'>;
}

/** Pictures of a part; null as long as they are not made, which is begun when they are first asked for. */
export type FindLookalikes = (part: DrawnAs) => Lookalikes | null;

export function createLookalikes({ db, now, files, runner }: LookalikesParts): FindLookalikes {
  const find = db.prepare<[string], string>('SELECT document_json FROM lookalikes WHERE reference_sha256 = ?').pluck();
  const put = db.prepare<[string, string, string]>('INSERT INTO lookalikes VALUES (?, ?, ?) ON CONFLICT DO NOTHING');
  /** Being made, or refused since the server started. */
  const begun = new Set<string>();
  const make = async ({ referenceSha256, exercise, values }: DrawnAs): Promise<void> => {
    const referencePath = files.pathOf(referenceSha256);
    const outcome = await runner.lookalikes({ exercise, values, stage: 1, referencePath });
    if (outcome.kind === 'done') put.run(referenceSha256, JSON.stringify(outcome.value), now().toISOString());
    // What gave way to somebody who waited is begun again when it is next asked for.
    if (outcome.kind === 'done' || outcome.kind === 'gave-way') begun.delete(referenceSha256);
  };
  return (part) => {
    const known = find.get(part.referenceSha256);
    if (known !== undefined) return v.parse(LookalikesSchema, JSON.parse(known));
    // A part from a file has no steps that a mistake could be made in.
    if (part.exercise.recipe.steps.length > 0 && !begun.has(part.referenceSha256)) {
      begun.add(part.referenceSha256);
      make(part).catch(() => begun.delete(part.referenceSha256));
    }
    return null;
  };
}
