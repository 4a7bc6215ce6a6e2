import { useState } from 'react';

import type { Kept, WorkDetail } from '#api';
import { EMPTY_LOG, type TimeLog } from '#core/timelog';
import { useKeepTimeMutation, useLazyTimeQuery, useTimeQuery } from '#web/api';
import { isConflict } from '#web/server';

/** The log of a student for one stage, kept as soon as it changes. */
export function useTimeLog({ id, stage }: Pick<WorkDetail, 'id' | 'stage'>) {
  const place = { id, stage };
  const { data, error: unread } = useTimeQuery(place, { refetchOnMountOrArgChange: true });
  const [latest] = useLazyTimeQuery();
  const [save, { error: unsaved }] = useKeepTimeMutation();
  const [mine, setMine] = useState<{ readonly version: number; readonly log: TimeLog } | null>(null);
  const stored = mine ?? logOf(data);
  return {
    log: stored.log,
    isRead: data !== undefined,
    error: unread ?? unsaved,
    /** Changes the log; where another window has changed it meanwhile, that log is changed. */
    change: async (make: (before: TimeLog) => TimeLog): Promise<boolean> => {
      const store = async (version: number, log: TimeLog) => {
        const answer = await save({ ...place, version, document: { ...log, spans: [...log.spans] } });
        if (answer.data) setMine({ version: answer.data.version, log });
        return answer;
      };
      const next = make(stored.log);
      if (next === stored.log) return true;
      const answer = await store(stored.version, next);
      if (!isConflict(answer.error)) return answer.error === undefined;
      const other = logOf((await latest(place)).data);
      return (await store(other.version, make(other.log))).error === undefined;
    },
  };
}

const logOf = (kept: Kept<'time'> | undefined) => ({
  version: kept?.version ?? 0,
  log: kept?.document ?? EMPTY_LOG,
});
