import { useState, type ReactNode } from 'react';
import { useNavigate, useParams } from 'react-router';

import type { Course, GradebookAnswer } from '#api';
import { useCoursesQuery, useGradebookQuery } from '#web/api';
import {
  Button,
  ButtonLink,
  DownloadLink,
  Empty,
  Failed,
  Loading,
  PageHead,
  plural,
  SelectField,
  TextField,
} from '#web/ui';

import { STATES } from './cell.tsx';
import { GradingDialog } from './grading-dialog.tsx';
import { ResultsDialog } from './results-dialog.tsx';
import { GradeTable } from './table.tsx';

/** The grades page without a course goes to the newest one. */
export function GradebookPage() {
  const courseId = useParams()['id'];
  const { data: courses, error, refetch } = useCoursesQuery();
  const navigate = useNavigate();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!courses) return <Loading what="courses" />;
  const course = courseId === undefined ? courses[0] : courses.find(({ id }) => id === Number(courseId));
  if (!course) return <Empty>You teach no course that has grades.</Empty>;
  return (
    <Grades
      key={course.id}
      course={course}
      chooser={
        courses.length > 1 && (
          <div className="w-64">
            <SelectField
              label="Course"
              value={course.id}
              onChange={(event) => void navigate(`/grades/${event.target.value}`)}
            >
              {courses.map(({ id, title, term }) => (
                <option key={id} value={id}>
                  {[title, term].filter(Boolean).join(', ')}
                </option>
              ))}
            </SelectField>
          </div>
        )
      }
    />
  );
}

/** With more students than this, one section is shown at a time. */
const MOST_AT_ONCE = 400;

/** How does everybody stand? */
function Grades({ course, chooser }: { readonly course: Course; readonly chooser: ReactNode }) {
  const students = course.sections.reduce((sum, section) => sum + section.students, 0);
  const isLarge = students > MOST_AT_ONCE && course.sections.length > 1;
  const [sectionId, setSectionId] = useState(isLarge ? (course.sections[0]?.id ?? null) : null);
  const { data, error, isFetching, refetch } = useGradebookQuery({ courseId: course.id, sectionId });
  const [search, setSearch] = useState('');
  const [dialog, setDialog] = useState<'grading' | 'results' | null>(null);
  const closeDialog = (): void => {
    setDialog(null);
  };
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the grades" />;
  const missing = data.rows.flatMap(({ cells }) => cells).filter(({ state }) => state === 'missing').length;
  const words = search.trim().toLowerCase();
  const rows = data.rows.filter((row) => `${row.name} ${row.login}`.toLowerCase().includes(words));
  return (
    <>
      <PageHead
        answer={`${plural(data.rows.length, 'student')}, ${plural(data.assignments.length, 'assignment')}, ${String(missing)} missing`}
        detail={`Grades of ${data.course}. ${howItCounts(data.scheme)} What is missing counts as 0; what is excused, absent or still open does not count.`}
        actions={
          <>
            {course.mayManage && (
              <Button
                onClick={() => {
                  setDialog('grading');
                }}
              >
                How grades come about
              </Button>
            )}
            <ButtonLink to={`/grades/${String(course.id)}/insight`}>What the class needs</ButtonLink>
            <Tables courseId={course.id} />
            <Button
              onClick={() => {
                setDialog('results');
              }}
            >
              For the school (ZIP)
            </Button>
          </>
        }
      />
      {dialog === 'grading' && <GradingDialog course={course} book={data} onClose={closeDialog} />}
      {dialog === 'results' && <ResultsDialog course={course} onClose={closeDialog} />}
      <div className="flex flex-wrap gap-4">
        {chooser}
        <div className="w-56">
          <TextField
            label="Student"
            value={search}
            onChange={(event) => {
              setSearch(event.target.value);
            }}
          />
        </div>
        {course.sections.length > 1 && (
          <div className="w-48">
            <SelectField
              label="Section"
              value={sectionId ?? ''}
              onChange={(event) => {
                setSectionId(event.target.value === '' ? null : Number(event.target.value));
              }}
            >
              {!isLarge && <option value="">All</option>}
              {course.sections.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </SelectField>
          </div>
        )}
      </div>
      {rows.length === 0 ? (
        <Empty>{data.rows.length === 0 ? 'Nobody belongs to it yet.' : 'Nobody of this name.'}</Empty>
      ) : (
        <GradeTable courseId={course.id} book={data} rows={rows} isStale={isFetching} />
      )}
      <Legend />
    </>
  );
}

/** The scheme of a course in a sentence. */
function howItCounts({ groups }: GradebookAnswer['scheme']): string {
  if (groups.length === 0) return 'All assignments count alike.';
  const weights = groups.reduce((sum, { weight }) => sum + weight, 0);
  const shares = groups.map(
    ({ name, weight, dropLowest }) =>
      `${name} ${String(Math.round((1000 * weight) / weights) / 10)} %${dropLowest === 0 ? '' : ` (${dropLowest === 1 ? 'the lowest' : `the ${String(dropLowest)} lowest`} left out)`}`,
  );
  return `${shares.join(', ')}.`;
}

const Tables = ({ courseId }: { readonly courseId: number }) =>
  (
    [
      ['xlsx', 'Workbook'],
      ['csv', 'Table'],
    ] as const
  ).map(([ending, words]) => (
    <DownloadLink key={ending} href={`/api/courses/${String(courseId)}/gradebook.${ending}`}>
      {words} ({ending.toUpperCase()})
    </DownloadLink>
  ));

const Legend = () => (
  <p className="flex flex-wrap gap-x-4 text-xs text-soft">
    {Object.values(STATES)
      .filter(({ sign }) => sign !== '')
      .map(({ sign, word }) => (
        <span key={word}>
          <span aria-hidden>{sign}</span> {word}
        </span>
      ))}
    <span>
      <s>80.0</s> left out, as one of the lowest
    </span>
  </p>
);
