import type { AssignmentQuestions, PaperPoint } from '#api';
import { useAddErratumMutation, useWithdrawErratumMutation } from '#web/api';
import { Button, dateTime, Panel, Refused, SelectField, TextArea, useKeptText } from '#web/ui';

import { erratumLabel } from './sheet-questions.ts';

interface ErrataProps {
  readonly assignment: AssignmentQuestions['assignment'];
  readonly errata: AssignmentQuestions['errata'];
  /** Of which sheet the place is chosen. */
  readonly stage: number;
  readonly place: PaperPoint | null;
  /** Whether that sheet is the one that is looked at. */
  readonly isShown: boolean;
  readonly onStage: (stage: number) => void;
  readonly onDone: () => void;
}

/** What is told to everybody about mistakes on the sheet. */
export function Errata({ assignment, errata, stage, place, isShown, onStage, onDone }: ErrataProps) {
  const [withdraw, { error }] = useWithdrawErratumMutation();
  const places = new Map<number, number>();
  return (
    <Panel title="Corrections of the sheet">
      <ul className="divide-y divide-rule" data-testid="errata">
        {errata.map((erratum) => {
          // They are counted a stage each, as students read them.
          const count = places.get(erratum.stage) ?? 0;
          places.set(erratum.stage, count + 1);
          return (
            <li key={erratum.id} className="px-3 py-2">
              <b className="font-semibold">{erratumLabel(count)}</b> {erratum.text}{' '}
              <span className="caption">
                {erratum.by}, {dateTime(erratum.at, assignment.timeZone)}
                {assignment.stages > 1 && `, stage ${String(erratum.stage)}`}
              </span>{' '}
              <button
                type="button"
                className="cursor-pointer text-sm underline"
                onClick={() => {
                  void withdraw({ id: assignment.id, erratumId: erratum.id });
                }}
              >
                Withdraw
              </button>
            </li>
          );
        })}
      </ul>
      <div className="p-3">
        <Refused error={error} />
        {isShown ? (
          <ErratumForm assignment={assignment} stage={stage} place={place} onStage={onStage} onDone={onDone} />
        ) : (
          <Button
            onClick={() => {
              onStage(stage);
            }}
          >
            Tell everybody of a mistake
          </Button>
        )}
      </div>
    </Panel>
  );
}

function ErratumForm({ assignment, stage, place, onStage, onDone }: Omit<ErrataProps, 'errata' | 'isShown'>) {
  const [text, setText] = useKeptText(`erratum ${String(assignment.id)}`);
  const [add, { error, isLoading }] = useAddErratumMutation();
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void add({ id: assignment.id, stage, text: text.trim(), place }).then((sent) => {
          if (sent.error !== undefined) return;
          setText('');
          onDone();
        });
      }}
    >
      {assignment.stages > 1 && (
        <SelectField
          label="Sheet of stage"
          value={stage}
          onChange={(event) => {
            onStage(Number(event.target.value));
          }}
        >
          {Array.from({ length: assignment.stages }, (_, i) => (
            <option key={i} value={i + 1}>
              {i + 1}
            </option>
          ))}
        </SelectField>
      )}
      <TextArea
        label="What is wrong, and how it should be"
        rows={2}
        maxLength={1000}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <p className="text-sm text-soft" role="status">
        {place === null
          ? 'Click on the sheet where it is. Students with other letter values read it without the mark.'
          : 'The mark on the sheet shows where.'}
      </p>
      <Refused error={error} />
      <Button type="submit" kind="main" className="self-start" disabled={isLoading || text.trim() === ''}>
        Tell everybody
      </Button>
    </form>
  );
}
