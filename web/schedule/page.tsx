import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';

import type { ExerciseSummary, Section } from '#api';
import { useExercisesQuery, useScheduleMutation, useSectionsQuery } from '#web/api';
import { Button, Empty, Failed, Loading, PageHead, Panel, plural, Refused, SelectField, Toggle } from '#web/ui';

import { RhythmForm } from './rhythm-form.tsx';
import { SeriesTable } from './series-table.tsx';
import { datesOfSeries, emptyPlan, issuesOf, type Plan } from './series.ts';

/** When is what issued in this term? */
export function SchedulePage() {
  const { data: sections, error, refetch } = useSectionsQuery();
  const { data: exercises } = useExercisesQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!sections || !exercises) return <Loading what="sections and exercises" />;
  if (sections.length === 0) return <Empty>You teach no section that something could be issued to.</Empty>;
  return <Schedule sections={sections} exercises={exercises} />;
}

interface ScheduleProps {
  readonly sections: readonly Section[];
  readonly exercises: readonly ExerciseSummary[];
}

function Schedule({ sections, exercises }: ScheduleProps) {
  const courses = [...new Set(sections.map(({ course }) => course))];
  const [course, setCourse] = useState(courses[0] ?? '');
  const [plan, setPlan] = useState<Plan>(emptyPlan);
  const [send, { error, isLoading }] = useScheduleMutation();
  const navigate = useNavigate();
  const dates = datesOfSeries(plan);
  const own = sections.filter((section) => section.course === course);
  const choices = exercises
    .filter((one) => one.course === course && one.revision !== null && one.archivedAt === null)
    .sort((a, b) => a.number.localeCompare(b.number, 'en', { numeric: true }));
  const missing = whatIsMissing(plan);
  const issue = async (): Promise<void> => {
    if (!dates.ok) return;
    const answer = await send({ issues: issuesOf(plan, dates.value) });
    if (!answer.data) return;
    toast.success(`${plural(plan.series.length, 'exercise')} issued to ${plural(plan.sectionIds.length, 'section')}.`);
    await navigate('/desk');
  };
  return (
    <>
      <PageHead
        answer={
          plan.series.length === 0
            ? 'Choose what is issued in this term'
            : `${plural(plan.series.length, 'exercise')} for ${plural(plan.sectionIds.length, 'section')}`
        }
        detail="One exercise each lesson, around the holidays. Nothing is issued before the button below; each date can be typed."
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[22rem_minmax(0,1fr)]">
        <Panel title="Rhythm of the term">
          <div className="flex flex-col gap-3 p-3">
            {courses.length > 1 && (
              <SelectField
                label="Course"
                value={course}
                onChange={(event) => {
                  setCourse(event.target.value);
                  setPlan({ ...plan, sectionIds: [], series: [], help: new Map(), typed: new Map() });
                }}
              >
                {courses.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </SelectField>
            )}
            <fieldset className="flex flex-col gap-1">
              <legend className="mb-1 text-sm font-medium">Sections</legend>
              {own.map(({ id, name, students }) => (
                <Toggle
                  key={id}
                  label={`${name} (${plural(students, 'student')})`}
                  on={plan.sectionIds.includes(id)}
                  onChange={(on) => {
                    const others = plan.sectionIds.filter((one) => one !== id);
                    setPlan({ ...plan, sectionIds: on ? [...others, id] : others });
                  }}
                />
              ))}
            </fieldset>
            <RhythmForm plan={plan} onChange={setPlan} />
          </div>
        </Panel>
        <Panel title="The series" className="overflow-x-auto">
          {choices.length === 0 ? (
            <Empty>No exercise of this course has a revision yet.</Empty>
          ) : (
            <SeriesTable exercises={choices} plan={plan} dates={dates} onChange={setPlan} />
          )}
          <div className="flex flex-col gap-2 border-t border-rule p-3">
            <Refused error={error} />
            {missing !== null && <p className="text-soft">{missing}</p>}
            <Button
              kind="main"
              className="self-start"
              disabled={isLoading || missing !== null || !dates.ok}
              onClick={() => void issue()}
            >
              {isLoading ? 'Issuing ...' : `Issue ${plural(plan.series.length, 'exercise')}`}
            </Button>
          </div>
        </Panel>
      </div>
    </>
  );
}

/** A whole number within limits, as it is typed. */
const isWhole = (text: string, least: number, most: number): boolean =>
  /^\d+$/.test(text.trim()) && Number(text) >= least && Number(text) <= most;

function whatIsMissing({ sectionIds, weekdays, series, attemptsAllowed, dueDays, firstDay }: Plan): string | null {
  if (sectionIds.length === 0) return 'Choose at least one section.';
  if (weekdays.length === 0) return 'Choose the days of the week on which there are lessons.';
  if (series.length === 0) return 'Choose the exercises.';
  if (firstDay === '') return 'Give the first day.';
  if (!isWhole(dueDays, 0, 365)) return 'Each is due after 0 to 365 days.';
  return isWhole(attemptsAllowed, 1, 20) ? null : 'Allow 1 to 20 attempts.';
}
