import { useState } from 'react';

import type { WorkDetail, WorkedSize } from '#api';
import { useKeepSizesMutation, useLazySizesQuery, useSizesQuery } from '#web/api';
import { isConflict } from '#web/server';

const NONE: readonly WorkedSize[] = [];

/** Sizes that were worked out, kept as soon as they are. */
export function useWorkedSizes({ id, stage, aids }: Pick<WorkDetail, 'id' | 'stage' | 'aids'>) {
  const place = { id, stage };
  const { data, error: unread } = useSizesQuery(place, {
    skip: aids.sizes === 'none',
    refetchOnMountOrArgChange: true,
  });
  const [latest] = useLazySizesQuery();
  const [save, { error: unsaved }] = useKeepSizesMutation();
  const [mine, setMine] = useState<{ readonly version: number; readonly sizes: readonly WorkedSize[] } | null>(null);
  const stored = mine ?? { version: data?.version ?? 0, sizes: data?.document ?? NONE };
  const put = async (change: (before: readonly WorkedSize[]) => readonly WorkedSize[]): Promise<void> => {
    const store = async (version: number, sizes: readonly WorkedSize[]) => {
      const answer = await save({ ...place, version, document: [...sizes] });
      if (answer.data) setMine({ version: answer.data.version, sizes });
      return answer;
    };
    const answer = await store(stored.version, change(stored.sizes));
    if (!isConflict(answer.error)) return;
    // Another window kept something meanwhile: this is added to it.
    const other = await latest(place);
    if (other.data) await store(other.data.version, change(other.data.document ?? NONE));
  };
  return {
    kept: stored.sizes,
    error: unread ?? unsaved,
    keep: (size: WorkedSize) => void put((before) => [...before, size]),
    remove: (index: number) => void put((before) => before.filter((_, i) => i !== index)),
  };
}
