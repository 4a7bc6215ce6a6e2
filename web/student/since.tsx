import type { AttemptDetail } from '#api';
import { changesSince, type Report, type Since } from '#core/grade';
import { useAttemptQuery } from '#web/api';
import { Panel } from '#web/ui';

interface SinceBeforeProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
}

/** What became better and worse since the attempt before; nothing for the first. */
export function SinceBefore({ attempt, report }: SinceBeforeProps) {
  const own = attempt.attempts.find(({ id }) => id === attempt.id);
  const before = attempt.attempts
    .filter(({ id, stage, state }) => id < attempt.id && stage === own?.stage && state === 'graded')
    .sort((a, b) => b.id - a.id)[0];
  if (before === undefined) return null;
  return <Compared beforeId={before.id} number={before.number} report={report} />;
}

interface ComparedProps {
  readonly beforeId: number;
  readonly number: number | null;
  readonly report: Report;
}

function Compared({ beforeId, number, report }: ComparedProps) {
  const { data } = useAttemptQuery(beforeId);
  if (!data?.report) return null;
  const since = changesSince(data.report, report);
  if (since.compared === 0) return null;
  const name = number === null ? 'the attempt before' : `attempt ${String(number)}`;
  return (
    <Panel title={`Since ${name}: ${scoreWords(data.report.score, report.score)}`}>
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1 p-3 text-sm" data-testid="since">
        {ROWS.map(({ key, word, look }) =>
          since[key].length === 0 ? null : (
            <div key={key} className="contents">
              <dt className={`font-medium ${look}`}>{word}</dt>
              <dd>{since[key].join(', ')}</dd>
            </div>
          ),
        )}
        {ROWS.every(({ key }) => since[key].length === 0) && (
          <dt className="col-span-2 text-soft">Every check came out as before.</dt>
        )}
      </dl>
    </Panel>
  );
}

const ROWS: readonly {
  readonly key: Exclude<keyof Since, 'compared'>;
  readonly word: string;
  readonly look: string;
}[] = [
  { key: 'broken', word: 'Right before', look: 'text-wrong' },
  { key: 'still', word: 'Still to do', look: 'text-near' },
  { key: 'mended', word: 'Mended', look: 'text-accent' },
];

function scoreWords(before: number, after: number): string {
  const by = Math.round(10 * (after - before)) / 10;
  return by === 0 ? 'the same score' : by > 0 ? `${String(by)} points more` : `${String(-by)} points less`;
}
