import type { SentGrades } from '#api';
import { grouped } from '#core/group';
import { useSendGradesMutation, useSentGradesQuery } from '#web/api';
import { Alert, Button, fromNow, Panel, plural, Refused } from '#web/ui';

const countOf = ({ students }: SentGrades, state: SentGrades['students'][number]['state']): number =>
  students.filter((student) => student.state === state).length;

/** What a sending would do, and what is kept back, in sentences. */
function stateInWords(grades: SentGrades): readonly string[] {
  const [same, review, open, unknown] = (['same', 'to-review', 'open', 'not-connected'] as const).map((state) =>
    countOf(grades, state),
  ) as [number, number, number, number];
  return [
    ...(same > 0 ? [`${plural(same, 'grade')} ${same === 1 ? 'is' : 'are'} there as here.`] : []),
    ...(review > 0 ? [`${plural(review, 'student')} ${review === 1 ? 'waits' : 'wait'} for your look first.`] : []),
    ...(open > 0
      ? [
          `${plural(open, 'grade')} ${open === 1 ? 'waits' : 'wait'} until nothing can be handed in any more: an exact score would tell what reports withhold until then.`,
        ]
      : []),
    ...(unknown > 0
      ? [`${plural(unknown, 'student')} never came from the site; they are looked up in its class list when you send.`]
      : []),
  ];
}

/** The grades of an assignment at the site of the school; nothing where the section is no course of one. */
export function GradesAtSite({ assignmentId }: { readonly assignmentId: number }) {
  const { data: grades } = useSentGradesQuery(assignmentId);
  const [send, { data: sending, error, isLoading }] = useSendGradesMutation();
  if (!grades || grades.site === null) return null;
  const waiting = countOf(grades, 'to-send') + countOf(grades, 'not-connected');
  const changed = grades.students.filter(({ state, sent }) => state === 'to-send' && sent !== null);
  const last = grades.students
    .flatMap(({ sent }) => sent?.at ?? [])
    .sort()
    .at(-1);
  return (
    <Panel title={`Grades at ${grades.site}`}>
      <div className="flex flex-col gap-2 px-3 py-2">
        <p>
          {last === undefined ? 'None was sent yet.' : `Sent last ${fromNow(last)}.`} {stateInWords(grades).join(' ')}
        </p>
        {changed.length > 0 && (
          <ul className="text-sm">
            {changed.map(({ id, name, score, sent }) => (
              <li key={id}>
                {name}: {sent?.score} there, {score} here
              </li>
            ))}
          </ul>
        )}
        <Refused error={error} />
        {sending !== undefined && sending.failed.length > 0 && (
          <Alert>
            {grouped(sending.failed, ({ why }) => why).map((alike) => (
              <p key={alike[0].why}>
                {alike.map(({ name }) => name).join(', ')}: {alike[0].why}
              </p>
            ))}
          </Alert>
        )}
        <Button
          className="self-start"
          disabled={isLoading || waiting === 0}
          onClick={() => {
            void send(assignmentId);
          }}
        >
          {isLoading ? 'Sending ...' : waiting === 0 ? 'Nothing to send' : `Send ${plural(waiting, 'grade')}`}
        </Button>
      </div>
    </Panel>
  );
}
