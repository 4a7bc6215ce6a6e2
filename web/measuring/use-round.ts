import { useState } from 'react';

import type { Round, RoundAnswer, RoundLine, WorkDetail } from '#api';
import { useKeepRoundMutation, useLazyRoundQuery, useRoundQuery } from '#web/api';
import { isConflict } from '#web/server';

/** What was typed so far, by dimension. */
const roundOf = ({ lines }: RoundAnswer): Round =>
  Object.fromEntries(
    lines.flatMap(({ checkId, readings }) =>
      readings.length === 0 ? [] : [[checkId, readings.map(({ text }) => text)]],
    ),
  );

/** A round with what was read for one dimension, the first time or again; emptied where nothing was typed. */
export function withReading(round: Round, checkId: string, pass: 0 | 1, text: string): Round {
  const [first = '', second = ''] = round[checkId] ?? [];
  const [one, two] = pass === 0 ? [text, second] : [first, text];
  const { [checkId]: _, ...others } = round;
  if (one === '' && two === '') return others;
  return { ...others, [checkId]: two === '' ? [one] : [one, two] };
}

/** The dimensions of a sheet and what was read off for them; each reading is kept as soon as it is typed. */
export function useRound({ id, stage }: Pick<WorkDetail, 'id' | 'stage'>) {
  const place = { id, stage };
  const { data, error: unread, refetch } = useRoundQuery(place, { refetchOnMountOrArgChange: true });
  const [latest] = useLazyRoundQuery();
  const [keep, { error: unsaved }] = useKeepRoundMutation();
  const [kept, setKept] = useState<RoundAnswer | null>(null);
  const answer = kept ?? data ?? null;
  const read = async (checkId: string, pass: 0 | 1, text: string): Promise<void> => {
    const store = async (basis: RoundAnswer) =>
      keep({ ...place, version: basis.version, document: withReading(roundOf(basis), checkId, pass, text) });
    if (answer === null) return;
    let saved = await store(answer);
    if (isConflict(saved.error)) {
      // Another window read something else meanwhile: both are kept.
      const other = await latest(place);
      if (other.data) saved = await store(other.data);
    }
    if (saved.data) setKept(saved.data);
  };
  return { lines: answer?.lines ?? null, read, unread, unsaved, retry: () => void refetch() };
}

/** What a dimension was found to be, by its last reading. */
export type LineState = 'open' | 'agrees' | 'differs' | 'unreadable';
export const stateOf = ({ readings }: RoundLine): LineState => readings.at(-1)?.verdict.kind ?? 'open';
