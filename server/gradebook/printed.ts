import type { StudentRecord } from '#api';
import { cellText } from '#core/gradebook';
import { dayIn } from '#core/time';
import type { PrintedRecord } from '#print';

/** The page of a student as it is printed for a talk: without what staff notes for each other. */
export function printedRecord(record: StudentRecord): PrintedRecord {
  const { name, course, section, total, letter, shares, work, causes, timeZone } = record;
  const grade = total === null ? 'none yet' : `${letter === null ? '' : `${letter}, `}${total.toFixed(1)} of 100`;
  return {
    title: `${name}: work in ${course}`,
    facts: [
      ['Section', section],
      ['Grade', grade],
    ],
    shares,
    work: work.map(({ number, title, dueAt, cell, scores, extension, leftOut }) => ({
      counts: `${cellText(cell)}${leftOut ? ', left out' : ''}`,
      exercise: `${number} ${title}`,
      due: dayIn(dueAt, timeZone),
      scores: scores.map(({ score }) => score.toFixed(1)).join(', '),
      extension: extension ?? '',
    })),
    causes: causes.map((cause) => ({ name: cause.name, exercises: cause.attemptIds.length })),
  };
}
