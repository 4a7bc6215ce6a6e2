import type { AttemptDetail } from '#api';
import type { Report } from '#core/grade';
import { dateTime, Panel } from '#web/ui';

const FRAMES: Readonly<Record<Report['frame']['kind'], string>> = {
  'as-modeled': 'The part lies as the sheet puts it.',
  moved: 'The part was moved before it was measured: it lies beside where the sheet puts it.',
  turned: 'The part was turned before it was measured: it lies on another plane than the sheet puts it.',
  mirrored: 'The part is of the wrong hand: it was mirrored before it was measured.',
  scaled: 'All lengths are off by one factor: the part is in another unit.',
};

/** Where the part lies, what its file warns of, and what the score was made of. */
export function AboutFile({ attempt, report }: { readonly attempt: AttemptDetail; readonly report: Report }) {
  const { frame, warnings } = report;
  if (warnings.length === 0 && frame.kind === 'as-modeled' && attempt.scored === null) return null;
  return (
    <Panel title="About the file">
      <ul className="px-3 py-2">
        {frame.kind !== 'as-modeled' && (
          <li>
            {FRAMES[frame.kind]} ({Math.round(100 * frame.certainty)} % sure)
          </li>
        )}
        {warnings.map((warning) => (
          <li key={warning.code}>{warning.message}</li>
        ))}
        {attempt.scored && <li className="caption break-all">{traceOf(attempt, attempt.scored)}</li>}
      </ul>
    </Panel>
  );
}

/** What a score was made of, so that it can be told years later. */
const traceOf = (
  { fileSha256, gradedAt, durationMs, assignment }: AttemptDetail,
  { program, ownPolicy }: NonNullable<AttemptDetail['scored']>,
): string =>
  [
    `Measured ${gradedAt === null ? '' : dateTime(gradedAt)}${durationMs === null ? '' : ` in ${String(durationMs)} ms`}`,
    `against revision ${String(assignment.revision)}`,
    `scored by Zorvet ${program === '' ? 'of an earlier version' : program}`,
    ownPolicy ? 'as set for this assignment' : 'as the exercise says',
    `SHA-256 of the file ${fileSha256}`,
  ].join(', ') + '.';
