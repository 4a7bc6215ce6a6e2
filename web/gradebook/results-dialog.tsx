import { useState } from 'react';

import type { Course, ResultsReadiness } from '#api';
import { useResultsReadinessQuery } from '#web/api';
import { Dialog, Failed, Loading, plural, TextField } from '#web/ui';

/** Grades as a package for the records of the school, with what is missing for it. */
export function ResultsDialog({ course, onClose }: { readonly course: Course; readonly onClose: () => void }) {
  const { data, error, refetch } = useResultsReadinessQuery(course.id);
  const [period, setPeriod] = useState('');
  const isSaid = period.trim() !== '';
  return (
    <Dialog
      onClose={onClose}
      title="Grades for the records of the school"
      description="A zip in the open format that school information systems read: OneRoster 1.2, gradebook files as CSV."
    >
      {error ? (
        <Failed error={error} retry={() => void refetch()} />
      ) : data ? (
        <Readiness readiness={data} />
      ) : (
        <Loading what="what is ready" />
      )}
      <TextField
        label="Grading period, as the school calls it (its sourcedId)"
        value={period}
        onChange={(event) => {
          setPeriod(event.target.value);
        }}
      />
      <a
        aria-disabled={!isSaid}
        className={`inline-flex h-8 items-center border border-accent bg-accent px-3 text-sm font-medium text-onaccent ${isSaid ? '' : 'pointer-events-none opacity-45'}`}
        {...(isSaid
          ? { href: `/api/courses/${String(course.id)}/results.zip?period=${encodeURIComponent(period.trim())}` }
          : {})}
        download
      >
        Save the package
      </a>
    </Dialog>
  );
}

function Readiness({ readiness }: { readonly readiness: ResultsReadiness }) {
  const { students, unnamed, unnamedSections, waiting } = readiness;
  return (
    <ul className="mb-3 list-disc pl-5 text-sm" data-testid="readiness">
      <li>
        {unnamed.length === 0
          ? `All ${plural(students, 'student')} are named as the school names them.`
          : `${String(unnamed.length)} of ${plural(students, 'student')} have no id of the school; the sign-in name stands in its place. Add students from a class list that has one (a column "School id", or the package of the school).`}
      </li>
      {unnamedSections.length > 0 && (
        <li>
          {`${unnamedSections.join(', ')}: the class id of the school is not known; it comes with a class list from its package.`}
        </li>
      )}
      {waiting > 0 && (
        <li>
          {plural(waiting, 'score')} of the package {waiting === 1 ? 'waits' : 'wait'} for a look.
        </li>
      )}
    </ul>
  );
}
