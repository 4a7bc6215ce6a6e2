/** When somebody worked on something, by their own notes: spans of time, one of them perhaps still running, beside an estimate. */
import * as v from 'valibot';

const MomentSchema = v.pipe(v.string(), v.isoTimestamp('Give a date and a time.'));
const SpanSchema = v.pipe(
  v.strictObject({
    from: MomentSchema,
    /** Null while it is running. */
    to: v.nullable(MomentSchema),
  }),
  v.check(
    ({ from, to }) => to === null || Date.parse(to) >= Date.parse(from),
    'A span of work ends after it has begun.',
  ),
);
export type Span = Readonly<v.InferOutput<typeof SpanSchema>>;

export const TimeLogSchema = v.pipe(
  v.strictObject({
    /** How long it would take, as was thought before; null where nothing was thought. */
    estimateMinutes: v.nullable(
      v.pipe(
        v.number('Type minutes.'),
        v.integer('Type whole minutes.'),
        v.minValue(1, 'At least a minute.'),
        v.maxValue(6000, 'At most 6000 minutes.'),
      ),
    ),
    spans: v.pipe(v.array(SpanSchema), v.maxLength(200, 'A time log has 200 entries at most.')),
  }),
  v.check(({ spans }) => spans.slice(0, -1).every(({ to }) => to !== null), 'Only the last span can be running.'),
);
export type TimeLog = Readonly<v.InferOutput<typeof TimeLogSchema>>;

export const EMPTY_LOG: TimeLog = { estimateMinutes: null, spans: [] };

const MINUTE_MS = 60_000;

/** Whether somebody is at work. */
export const isRunning = ({ spans }: TimeLog): boolean => spans.at(-1)?.to === null;

/** The log with work that begins now; as it is where it has begun. */
export const begunAt = (log: TimeLog, at: string): TimeLog =>
  isRunning(log) ? log : { ...log, spans: [...log.spans, { from: at, to: null }] };

/** The log with a pause from now on; as it is where nothing is running. A clock that was set back ends a span where it began. */
export function pausedAt(log: TimeLog, at: string): TimeLog {
  const last = log.spans.at(-1);
  if (last?.to !== null) return log;
  const to = Date.parse(at) < Date.parse(last.from) ? last.from : at;
  return { ...log, spans: [...log.spans.slice(0, -1), { ...last, to }] };
}

/**
 * Minutes of work, whole ones, what is running counted until `nowMs` (milliseconds since 1970). Spans that overlap, as after a
 * correction by hand, count once.
 */
export function minutesOf({ spans }: Pick<TimeLog, 'spans'>, nowMs: number): number {
  const sorted = spans
    .map(({ from, to }) => ({ from: Date.parse(from), to: to === null ? nowMs : Date.parse(to) }))
    .sort((a, b) => a.from - b.from);
  let [sumMs, reached] = [0, Number.NEGATIVE_INFINITY];
  for (const { from, to } of sorted) {
    sumMs += Math.max(0, to - Math.max(from, reached));
    reached = Math.max(reached, to);
  }
  return Math.round(sumMs / MINUTE_MS);
}

/** "1 h 20 min". */
export function minutesInWords(minutes: number): string {
  const [hours, rest] = [Math.floor(minutes / 60), minutes % 60];
  return [
    ...(hours > 0 ? [`${String(hours)} h`] : []),
    ...(rest > 0 || hours === 0 ? [`${String(rest)} min`] : []),
  ].join(' ');
}
