import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';

import type { Course } from '#api';
import { failureText, useChangeCourseMutation, useCoursesQuery, useNewSectionMutation } from '#web/api';
import { Button, DownloadLink, Empty, Failed, Loading, PageHead, Panel, plural, TextField } from '#web/ui';

import { CourseDialog } from './course-dialog.tsx';
import { LogDialog } from './log.tsx';
import { StaffPanel } from './staff.tsx';

/** Who learns and teaches here? */
export function PeoplePage() {
  const { data, error, refetch } = useCoursesQuery();
  const [isNew, setIsNew] = useState(false);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="courses" />;
  const current = data.filter(({ archivedAt }) => archivedAt === null);
  const students = current.flatMap(({ sections }) => sections).reduce((sum, section) => sum + section.students, 0);
  return (
    <>
      <PageHead
        answer={`${plural(students, 'student')} in ${plural(current.length, 'course')}`}
        detail="Open a section to add students, print slips for first sign-ins, or see who has signed in."
        actions={
          <Button
            kind="main"
            onClick={() => {
              setIsNew(true);
            }}
          >
            New course
          </Button>
        }
      />
      {data.length === 0 && <Empty>You belong to no course yet. Begin with a new one.</Empty>}
      {data.map((course) => (
        <CourseBlock key={course.id} course={course} />
      ))}
      {isNew && (
        <CourseDialog
          course={null}
          onClose={() => {
            setIsNew(false);
          }}
        />
      )}
    </>
  );
}

function CourseBlock({ course }: { readonly course: Course }) {
  const [isEdited, setIsEdited] = useState(false);
  const [isLogOpen, setIsLogOpen] = useState(false);
  const [change] = useChangeCourseMutation();
  const { id, title, term, archivedAt, mayManage } = course;
  return (
    <section aria-label={title} className="flex flex-col gap-2">
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <h2 className="text-lg">{title}</h2>
        <span className="text-soft">
          {[
            term,
            course.timeZone.replaceAll('_', ' '),
            archivedAt === null ? '' : 'archived',
            course.forgottenAt !== null
              ? 'work of students erased'
              : course.keepUntil === null
                ? ''
                : `work of students kept until ${course.keepUntil}`,
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
        {mayManage && (
          <span className="ml-auto flex gap-2">
            <Button
              onClick={() => {
                setIsLogOpen(true);
              }}
            >
              Log
            </Button>
            <Button
              onClick={() => {
                setIsEdited(true);
              }}
            >
              Change
            </Button>
            <DownloadLink href={`/api/courses/${String(id)}/archive.zip`}>Save all of it (ZIP)</DownloadLink>
            <Button onClick={() => void change({ id, archived: archivedAt === null })}>
              {archivedAt === null ? 'Archive' : 'Take out of the archive'}
            </Button>
          </span>
        )}
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <Sections course={course} />
        <StaffPanel course={course} />
      </div>
      {isLogOpen && (
        <LogDialog
          courseId={id}
          title={title}
          onClose={() => {
            setIsLogOpen(false);
          }}
        />
      )}
      {isEdited && (
        <CourseDialog
          course={course}
          onClose={() => {
            setIsEdited(false);
          }}
        />
      )}
    </section>
  );
}

function Sections({ course: { id, sections, mayManage } }: { readonly course: Course }) {
  return (
    <Panel title="Sections">
      {sections.length === 0 && <Empty>A course needs a section before anything can be issued.</Empty>}
      <ul className="divide-y divide-rule">
        {sections.map((section) => (
          <li key={section.id}>
            <SectionLink section={section} isOpen={mayManage} />
          </li>
        ))}
      </ul>
      {mayManage && <NewSection courseId={id} />}
    </Panel>
  );
}

function SectionLink({
  section: { id, name, students, joinCode },
  isOpen,
}: {
  readonly section: Course['sections'][number];
  readonly isOpen: boolean;
}) {
  const words = (
    <>
      <span className="font-medium">{name}</span>
      <span className="text-soft">
        {plural(students, 'student')}
        {joinCode !== null && ', open by link'}
      </span>
    </>
  );
  const look = 'flex items-baseline justify-between gap-3 px-3 py-2';
  return isOpen ? (
    <Link to={`/people/sections/${String(id)}`} className={`${look} hover:bg-accent-soft`}>
      {words}
    </Link>
  ) : (
    <p className={look}>{words}</p>
  );
}

function NewSection({ courseId }: { readonly courseId: number }) {
  const [name, setName] = useState('');
  const [make, { isLoading }] = useNewSectionMutation();
  return (
    <form
      className="flex items-end gap-2 border-t border-rule p-3"
      onSubmit={(event) => {
        event.preventDefault();
        void make({ courseId, name }).then(({ error }) => {
          if (error === undefined) setName('');
          else toast.error(failureText(error));
        });
      }}
    >
      <div className="flex-1">
        <TextField
          label="New section"
          value={name}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
      </div>
      <Button type="submit" disabled={name.trim() === '' || isLoading} className="mb-5">
        Add
      </Button>
    </form>
  );
}
