import { useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';

import type { GradebookAnswer } from '#api';
import { formatFixed } from '#core/quantity';
import { useCoursesQuery, useGradebookQuery } from '#web/api';
import { Empty, Failed, Loading, PageHead, plural, SelectField, TextField } from '#web/ui';

import { Cell, STATES } from './cell.tsx';

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
      courseId={course.id}
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

/** How does everybody stand? */
function Grades({ courseId, chooser }: { readonly courseId: number; readonly chooser: ReactNode }) {
  const { data, error, refetch } = useGradebookQuery(courseId);
  const [search, setSearch] = useState('');
  const [section, setSection] = useState('');
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the grades" />;
  const missing = data.rows.flatMap(({ cells }) => cells).filter((cell) => cell?.state === 'missing').length;
  const sections = [...new Set(data.rows.map((row) => row.section))].sort();
  const words = search.trim().toLowerCase();
  const rows = data.rows.filter(
    (row) => (section === '' || row.section === section) && `${row.name} ${row.login}`.toLowerCase().includes(words),
  );
  return (
    <>
      <PageHead
        answer={`${plural(data.rows.length, 'student')}, ${plural(data.assignments.length, 'assignment')}, ${String(missing)} missing`}
        detail={`Grades of ${data.course}. What is missing counts as 0; what is excused or still open does not count.`}
        actions={
          <a
            className="inline-flex h-8 items-center border border-ink/70 px-3 text-sm font-medium hover:bg-accent-soft"
            href={`/api/courses/${String(courseId)}/gradebook.csv`}
            download
          >
            Table for a spreadsheet
          </a>
        }
      />
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
        {sections.length > 1 && (
          <div className="w-48">
            <SelectField
              label="Section"
              value={section}
              onChange={(event) => {
                setSection(event.target.value);
              }}
            >
              <option value="">All</option>
              {sections.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </SelectField>
          </div>
        )}
      </div>
      {rows.length === 0 ? (
        <Empty>Nobody of this name.</Empty>
      ) : (
        <GradeTable courseId={courseId} assignments={data.assignments} rows={rows} />
      )}
      <Legend />
    </>
  );
}

function GradeTable({
  courseId,
  assignments,
  rows,
}: Pick<GradebookAnswer, 'assignments' | 'rows'> & { readonly courseId: number }) {
  return (
    <div className="max-h-[70vh] overflow-auto panel">
      <table className="border-collapse text-sm" data-testid="gradebook">
        <thead className="sticky top-0 z-10 bg-paper text-left">
          <tr className="border-b border-ink/70">
            <th scope="col" className="sticky left-0 z-10 bg-paper px-3 py-2 font-medium">
              Student
            </th>
            <th scope="col" className="px-3 py-2 text-right font-medium">
              Mean
            </th>
            {assignments.map(({ id, number, title, section }) => (
              <th key={id} scope="col" className="min-w-24 px-2 py-2 align-bottom font-normal">
                <Link
                  to={`/assignments/${String(id)}`}
                  className="block hover:underline"
                  title={`${title}, ${section}`}
                >
                  <b className="block font-medium">{number}</b>
                  <span className="block max-w-28 truncate text-xs text-soft">{title}</span>
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ id, name, section, cells, total }) => (
            <tr key={`${String(id)} ${section}`} className="border-b border-rule">
              <th scope="row" className="sticky left-0 bg-paper px-3 py-1 text-left font-medium whitespace-nowrap">
                <Link to={`/grades/${String(courseId)}/students/${String(id)}`} className="hover:underline">
                  {name}
                </Link>{' '}
                <span className="block text-xs font-normal text-soft">{section}</span>
              </th>
              <td className="px-3 text-right font-medium tabular-nums">
                {total === null ? '' : formatFixed(total, 1)}
              </td>
              {cells.map((cell, i) => (
                <td key={assignments[i]?.id} className="px-2 py-1">
                  {cell !== null && <Cell cell={cell} />}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const Legend = () => (
  <p className="flex flex-wrap gap-x-4 text-xs text-soft">
    {Object.values(STATES)
      .filter(({ sign }) => sign !== '')
      .map(({ sign, word }) => (
        <span key={word}>
          <span aria-hidden>{sign}</span> {word}
        </span>
      ))}
  </p>
);
