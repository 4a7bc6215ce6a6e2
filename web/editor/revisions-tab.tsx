import { useEffect, useMemo, useState } from 'react';

import type { Exercise } from '#core/exercise';
import { formatFixed } from '#core/quantity';
import { useRevisionQuery, useRevisionsQuery } from '#web/api';
import { dateTime, Empty, Failed, Loading, Panel, plural } from '#web/ui';
import type { WorkshopClient } from '#web/workshop';

import { differencesOf } from './compare.ts';

/** Numbered revisions, and what changed from any of them to the draft. */
export function RevisionsTab({ id, exercise, workshop }: { id: number; exercise: Exercise; workshop: WorkshopClient }) {
  const { data, error, refetch } = useRevisionsQuery(id);
  const [chosen, setChosen] = useState<number | null>(null);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="revisions" />;
  const [newest] = data;
  if (newest === undefined)
    return (
      <Empty>
        There is no revision yet. Make one when part and check plan are ready; only revisions can be issued.
      </Empty>
    );
  const number = chosen ?? newest.number;
  return (
    <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,3fr)_minmax(0,9fr)]">
      <Panel title={plural(data.length, 'revision')}>
        <ul>
          {data.map((revision) => (
            <li key={revision.number} className="border-b border-rule">
              <button
                type="button"
                aria-pressed={revision.number === number}
                className="w-full cursor-pointer px-3 py-1.5 text-left hover:bg-accent-soft aria-pressed:bg-accent-soft"
                onClick={() => {
                  setChosen(revision.number);
                }}
              >
                <b>{revision.number}</b>, {dateTime(revision.createdAt)}
                <span className="block text-xs text-soft">
                  {revision.issued.length === 0
                    ? 'not issued'
                    : `issued ${plural(revision.issued.length, 'time')}, frozen`}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </Panel>
      <Comparison key={number} id={id} number={number} exercise={exercise} workshop={workshop} />
    </div>
  );
}

function Comparison({
  id,
  number,
  exercise,
  workshop,
}: {
  id: number;
  number: number;
  exercise: Exercise;
  workshop: WorkshopClient;
}) {
  const { data, error } = useRevisionQuery({ id, number });
  const [volumes, setVolumes] = useState<readonly [number | null, number | null] | null>(null);
  const differences = useMemo(() => (data ? differencesOf(data, exercise) : []), [data, exercise]);
  useEffect(() => {
    if (!data) return undefined;
    const shown = { current: true };
    const volumeOf = async (of: Exercise): Promise<number | null> => {
      const key = await workshop.ask<'key'>({ kind: 'key', exercise: { ...of, variants: [], stages: [] } });
      return key.ok ? (key.value[0]?.properties?.volumeMm3 ?? null) : null;
    };
    void (async () => {
      const found = [await volumeOf(data), await volumeOf(exercise)] as const;
      if (shown.current) setVolumes(found);
    })();
    return () => {
      shown.current = false;
    };
  }, [data, exercise, workshop]);
  if (error) return <Failed error={error} />;
  if (!data) return <Loading what="the revision" />;
  const [before, after] = volumes ?? [null, null];
  const cubic = (mm3: number | null) => (mm3 === null ? '...' : `${formatFixed(mm3 / 1000, 3)} cm³`);
  const share = before !== null && after !== null ? ((after - before) / before) * 100 : null;
  return (
    <Panel
      title={
        differences.length === 0
          ? `The draft is revision ${String(number)}`
          : `From revision ${String(number)} to the draft: ${plural(differences.length, 'change')}`
      }
    >
      <table className="w-full text-sm" data-testid="comparison">
        <thead>
          <tr className="border-b border-rule text-left caption">
            <th className="px-3 py-1 font-normal">What</th>
            <th className="font-normal">Revision {number}</th>
            <th className="font-normal">Draft</th>
          </tr>
        </thead>
        <tbody>
          <tr className="border-b border-rule">
            <td className="px-3 py-1">Volume</td>
            <td>{cubic(before)}</td>
            <td>
              {cubic(after)}
              {share !== null && Math.abs(share) > 1e-6 ? ` (${share > 0 ? '+' : ''}${formatFixed(share, 2)} %)` : ''}
            </td>
          </tr>
          {differences.map(({ what, before: old, after: now }, i) => (
            <tr key={`${String(i)} ${what}`} className="border-b border-rule align-top">
              <td className="w-44 px-3 py-1 font-medium">{what}</td>
              <td className="py-1 pr-3">{old}</td>
              <td className="py-1 pr-3">{now}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Panel>
  );
}
