/** What students do between reading and handing in: building in the page, going round the sheet, working out sizes. */
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import type { Runner } from '#server/jobs';
import type { References } from '#server/reference';

import { createLookalikes } from './lookalikes.ts';
import { createPartReader, type ReadParts } from './parts.ts';
import { createReadings, type Readings } from './readings.ts';
import { createRounds, type Rounds } from './rounds.ts';
import { createSizes, type Sizes } from './sizes.ts';
import { createWorkings, type Workings } from './workings.ts';

export { practiceRoutes } from './routes.ts';
export type { Rounds } from './rounds.ts';
export type { Workings } from './workings.ts';

export interface Practice {
  readonly workings: Workings;
  readonly rounds: Rounds;
  readonly sizes: Sizes;
  readonly readings: Readings;
  readonly read: ReadParts;
}

export function createPractice({
  db,
  files,
  references,
  runner,
  now,
}: {
  readonly db: Db;
  readonly files: Pick<FileStore, 'read' | 'pathOf'>;
  readonly runner: Pick<Runner, 'lookalikes'>;
  readonly references: References;
  readonly now: () => Date;
}): Practice {
  const workings = createWorkings(db, now);
  const read = createPartReader(files, references);
  return {
    workings,
    rounds: createRounds(read, workings),
    sizes: createSizes(read),
    readings: createReadings({ db, read, lookalikesOf: createLookalikes({ db, now, files, runner }), now }),
    read,
  };
}
