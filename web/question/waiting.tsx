import { useAssignmentQuestionsQuery } from '#web/api';
import { ButtonLink, Panel, plural } from '#web/ui';

/** How many questions about the sheet of an assignment wait, with the way to them. */
export function QuestionsWaiting({ assignmentId }: { readonly assignmentId: number }) {
  const { data } = useAssignmentQuestionsQuery(assignmentId);
  const waiting = data?.questions.filter(({ answer }) => answer === null).length ?? 0;
  const answered = (data?.questions.length ?? 0) - waiting;
  const errata = data?.errata.length ?? 0;
  const facts = [
    ...(answered > 0 ? [`${String(answered)} answered`] : []),
    ...(errata > 0 ? [plural(errata, 'correction')] : []),
  ];
  return (
    <Panel
      title={waiting === 0 ? 'No question about the sheet waits' : `${plural(waiting, 'question')} about the sheet`}
    >
      <div className="flex items-center justify-between gap-3 p-3">
        <span className="text-sm text-soft">{facts.join(', ')}</span>
        <ButtonLink to={`/assignments/${String(assignmentId)}/questions`}>
          {waiting > 0 ? 'Answer' : 'Questions and corrections'}
        </ButtonLink>
      </div>
    </Panel>
  );
}
