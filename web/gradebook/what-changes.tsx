import { useMemo } from 'react';
import * as v from 'valibot';

import { GradingInputSchema, type GradebookAnswer, type GradingDraft } from '#api';
import { gradeChanges, type GradeChange, type GradebookInput } from '#core/gradebook';
import { formatFixed } from '#core/quantity';
import { plural } from '#web/ui';

const inputOf = ({ assignments, scheme, rows }: GradebookAnswer): GradebookInput => ({
  assignments,
  scheme,
  students: rows.map(({ cells, id, name, login, section }) => ({
    id,
    name,
    login,
    section,
    cells: new Map(cells.map(({ assignmentId, ...cell }) => [assignmentId, cell])),
  })),
});

/** Whose grade a scheme would change that is being typed; null as long as it cannot be used. */
function useChanges(book: GradebookAnswer, draft: GradingDraft): readonly GradeChange[] | null {
  const input = useMemo(() => inputOf(book), [book]);
  const read = v.safeParse(GradingInputSchema, draft);
  return read.success
    ? gradeChanges(
        input,
        read.output.scheme,
        new Map(read.output.groupOf.map(({ assignmentId, groupId }) => [assignmentId, groupId])),
      )
    : null;
}

const gradeText = ({ total, letter }: GradeChange['after']): string =>
  total === null ? 'nothing yet' : `${formatFixed(total, 1)}${letter === null ? '' : ` ${letter}`}`;

interface WhatChangesProps {
  readonly book: GradebookAnswer;
  readonly draft: GradingDraft;
}

/** What saving would do, grade by grade, before it is saved. */
export function WhatChanges({ book, draft }: WhatChangesProps) {
  const changes = useChanges(book, draft);
  const numberOf = new Map(book.assignments.map(({ id, number }) => [id, number]));
  const named = (ids: readonly number[]): string => ids.map((id) => numberOf.get(id) ?? '').join(', ');
  if (changes === null) return null;
  return (
    <section data-testid="grade-changes">
      <h3 className="font-medium" role="status">
        {changes.length === 0
          ? 'This changes no grade.'
          : `This changes ${plural(changes.length, 'grade')} of ${String(book.rows.length)}.`}
      </h3>
      {changes.length > 0 && (
        <ul className="mt-1 max-h-60 divide-y divide-rule overflow-auto border border-rule">
          {changes.map(({ id, name, before, after, why, nowLeft, countAgain }) => (
            <li key={id}>
              <details>
                <summary className="flex cursor-pointer justify-between gap-3 px-2 py-1">
                  <span>{name}</span>
                  <span className="tabular-nums">
                    {gradeText(before)} → <b className="font-semibold">{gradeText(after)}</b>
                  </span>
                </summary>
                <div className="px-2 pb-2 text-sm text-soft">
                  {why.map((sentence) => (
                    <p key={sentence}>{sentence}</p>
                  ))}
                  {nowLeft.length > 0 && <p>Left out now: {named(nowLeft)}.</p>}
                  {countAgain.length > 0 && <p>Counts again: {named(countAgain)}.</p>}
                </div>
              </details>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
