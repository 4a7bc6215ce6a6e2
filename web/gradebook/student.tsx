import { lazy, Suspense } from 'react';
import { Link, useParams } from 'react-router';

import type { StudentRecord } from '#api';
import { formatFixed } from '#core/quantity';
import { useCoursesQuery, useStudentRecordQuery } from '#web/api';
import { dateTime, DownloadLink, Empty, Failed, Loading, PageHead, Panel, plural, TableHead } from '#web/ui';

import { Cell } from './cell.tsx';
import { Notes } from './notes.tsx';
import { Personal } from './personal.tsx';

const ProgressChart = lazy(() => import('./progress-chart.tsx'));

/** A line needs two ends. */
const FEWEST_FOR_CHART = 2;

/** How does this student stand, and what goes wrong again and again? */
export function StudentPage() {
  const { id, studentId } = useParams();
  const courseId = Number(id);
  const { data, error, refetch } = useStudentRecordQuery({ courseId, studentId: Number(studentId) });
  const { data: courses } = useCoursesQuery();
  const course = courses?.find(({ id: own }) => own === courseId);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the student" />;
  const { name, login, section, total, letter, shares, work, causes } = data;
  const missing = work.filter(({ cell }) => cell.state === 'missing').length;
  return (
    <>
      <PageHead
        answer={`${name}: ${total === null ? 'no grade yet' : `${letter === null ? '' : `${letter}, `}${formatFixed(total, 1)} of 100 in the mean`}`}
        detail={
          <>
            {missing > 0 && `${plural(missing, 'assignment')} missing. `}
            <Link className="underline" to={`/grades/${String(courseId)}`}>
              Grades of {data.course}
            </Link>
          </>
        }
        actions={
          <>
            <DownloadLink href={`/api/courses/${String(courseId)}/students/${String(studentId)}/record.pdf`}>
              PDF for a talk
            </DownloadLink>
            {course?.mayManage === true && (
              <Personal studentId={Number(studentId)} name={name} login={login} courseId={courseId} />
            )}
          </>
        }
        facts={[
          { label: 'Sign-in name', value: login },
          { label: 'Section', value: section },
          { label: 'Assignments', value: String(work.length) },
        ]}
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="flex min-w-0 flex-col gap-4">
          {work.filter(({ scores }) => scores.length > 0).length >= FEWEST_FOR_CHART && (
            <Panel title="Over the term">
              <Suspense fallback={<Loading what="the chart" />}>
                <ProgressChart work={work} />
              </Suspense>
            </Panel>
          )}
          <Panel title="Work, by date" className="overflow-x-auto">
            <Work work={work} />
            {shares.length > 0 && (
              <ul className="border-t border-rule px-3 py-2 text-sm text-soft">
                {shares.map((share) => (
                  <li key={share}>{share}</li>
                ))}
              </ul>
            )}
          </Panel>
        </div>
        <div className="flex min-w-0 flex-col gap-4">
          <Panel title="What went wrong, in the newest attempt of each exercise">
            {causes.length === 0 ? (
              <Empty>No cause of a mistake is known.</Empty>
            ) : (
              <ul className="divide-y divide-rule">
                {causes.map(({ name: cause, attemptIds }) => (
                  <li key={cause} className="flex items-baseline justify-between gap-3 px-3 py-1.5">
                    <span>{cause}</span>
                    <span className="flex gap-2 text-sm">
                      {attemptIds.map((attemptId, i) => (
                        <Link key={attemptId} to={`/attempts/${String(attemptId)}`} className="underline">
                          {i + 1}
                        </Link>
                      ))}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </Panel>
          <Notes courseId={courseId} studentId={Number(studentId)} record={data} />
        </div>
      </div>
    </>
  );
}

function Work({ work }: Pick<StudentRecord, 'work'>) {
  return (
    <table className="w-full text-left text-sm" data-testid="student-work">
      <TableHead heads={['Exercise', 'Due', 'Counts', 'Scores of all attempts', 'Extension']} />
      <tbody className="divide-y divide-rule">
        {work.map(({ assignmentId, number, title, dueAt, cell, scores, extension, leftOut }) => (
          <tr key={assignmentId}>
            <th scope="row" className="px-3 py-1.5 font-medium">
              <Link to={`/assignments/${String(assignmentId)}`} className="hover:underline">
                {number} {title}
              </Link>
            </th>
            <td className="px-3">{dateTime(dueAt)}</td>
            <td className="px-3">
              <Cell cell={cell} isLeftOut={leftOut} />
            </td>
            <td className="px-3 tabular-nums">
              {scores.map(({ attemptId, score }) => (
                <Link key={attemptId} to={`/attempts/${String(attemptId)}`} className="mr-2 underline">
                  {formatFixed(score, 1)}
                </Link>
              ))}
            </td>
            <td className="px-3">{extension}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
