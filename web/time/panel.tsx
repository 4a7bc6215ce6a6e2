import { Pause, Play, Trash2 } from 'lucide-react';
import { useEffect, useId, useState } from 'react';

import type { WorkDetail } from '#api';
import { begunAt, isRunning, minutesInWords, minutesOf, pausedAt, type Span, type TimeLog } from '#core/timelog';
import { Button, LATEST_LOCAL, localOf, momentOf, Panel, Refused } from '#web/ui';

import type { useTimeLog } from './time-log.ts';

const EVERY_MS = 15_000;

interface TimePanelProps {
  readonly work: Pick<WorkDetail, 'aids'>;
  readonly time: ReturnType<typeof useTimeLog>;
}

/** How long it takes: begun, paused, compared with what was thought before, and corrected by hand. */
export function TimePanel({ work, time: { log, isRead, error, change } }: TimePanelProps) {
  const nowMs = useNow(isRunning(log));
  const minutes = minutesOf(log, nowMs);
  const running = isRunning(log);
  const at = (): string => new Date().toISOString();
  return (
    <Panel title={`Time: ${minutesInWords(minutes)}`}>
      <div className="flex flex-col gap-2 px-3 py-2 text-sm" data-testid="time">
        <p className="text-soft">
          {work.aids.time === 'shared'
            ? 'Your course reads the sum when you hand in, not the entries.'
            : 'Your own notes; nobody else reads them.'}
        </p>
        <Refused error={error} />
        <div className="flex flex-wrap items-center gap-3">
          <Button
            disabled={!isRead}
            onClick={() =>
              void change((before) => (isRunning(before) ? pausedAt(before, at()) : begunAt(before, at())))
            }
          >
            {running ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
            {running ? 'Pause' : log.spans.length === 0 ? 'Begin' : 'Go on'}
          </Button>
          <Estimate log={log} minutes={minutes} onChange={change} />
        </div>
        {log.spans.length > 0 && <Entries spans={log.spans} onChange={change} />}
      </div>
    </Panel>
  );
}

/** The time of the clock, in milliseconds, again and again while something runs. */
function useNow(isTicking: boolean): number {
  const [nowMs, setNowMs] = useState(() => Date.now());
  useEffect(() => {
    if (!isTicking) return undefined;
    const tick = (): void => {
      setNowMs(Date.now());
    };
    const first = setTimeout(tick, 0);
    const timer = setInterval(tick, EVERY_MS);
    return () => {
      clearTimeout(first);
      clearInterval(timer);
    };
  }, [isTicking]);
  return nowMs;
}

type Change = TimePanelProps['time']['change'];

function Estimate({
  log: { estimateMinutes },
  minutes,
  onChange,
}: {
  readonly log: TimeLog;
  readonly minutes: number;
  readonly onChange: Change;
}) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? (estimateMinutes === null ? '' : String(estimateMinutes));
  const keep = (): void => {
    const typed = shown.trim();
    const value = typed === '' ? null : Number(typed);
    const isSound = value === null || (Number.isInteger(value) && value >= 1 && value <= 6000);
    setText(null);
    if (isSound && value !== estimateMinutes) void onChange((before) => ({ ...before, estimateMinutes: value }));
  };
  return (
    <span className="flex items-center gap-1.5">
      <label htmlFor={id}>Estimate</label>
      <input
        id={id}
        inputMode="numeric"
        className="h-8 w-16 border border-ink/60 bg-paper px-2 text-right"
        value={shown}
        onChange={({ target }) => {
          setText(target.value);
        }}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
        }}
      />
      min
      {estimateMinutes !== null && minutes > 0 && (
        <span className="caption">{comparison(minutes, estimateMinutes)}</span>
      )}
    </span>
  );
}

const comparison = (minutes: number, estimate: number): string =>
  minutes <= estimate
    ? `${minutesInWords(estimate - minutes)} left`
    : `${minutesInWords(minutes - estimate)} more than thought`;

/** The entries, to be corrected: somebody forgot to begin, or to pause. */
function Entries({ spans, onChange }: { readonly spans: readonly Span[]; readonly onChange: Change }) {
  const set = (index: number, next: Span): void => {
    if (next.to !== null && Date.parse(next.to) < Date.parse(next.from)) return;
    void onChange((before) => ({ ...before, spans: before.spans.map((one, i) => (i === index ? next : one)) }));
  };
  const field = (index: number, key: 'from' | 'to', span: Span) => (
    <input
      type="datetime-local"
      aria-label={`${key === 'from' ? 'Begun' : 'Paused'}, entry ${String(index + 1)}`}
      max={LATEST_LOCAL}
      className="h-8 border border-rule bg-paper px-1"
      value={localOf(span[key] ?? '')}
      onChange={({ target }) => {
        const moment = momentOf(target.value);
        if (moment !== '') set(index, { ...span, [key]: moment });
      }}
    />
  );
  return (
    <details>
      <summary className="cursor-pointer underline">Entries, to be corrected</summary>
      <ol className="mt-1 flex flex-col gap-1">
        {spans.map((span, i) => (
          <li key={`${String(i)} ${span.from}`} className="flex flex-wrap items-center gap-1">
            {field(i, 'from', span)}
            {span.to === null ? <span className="caption">at work</span> : field(i, 'to', span)}
            <Button
              kind="quiet"
              aria-label={`Remove entry ${String(i + 1)}`}
              onClick={() =>
                void onChange((before) => ({ ...before, spans: before.spans.filter((_, place) => place !== i) }))
              }
            >
              <Trash2 size={14} aria-hidden />
            </Button>
          </li>
        ))}
      </ol>
    </details>
  );
}
