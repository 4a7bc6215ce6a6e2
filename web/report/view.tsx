import { Tabs } from 'radix-ui';
import { useMemo, useState, type ReactNode } from 'react';

import type { AttemptDetail, Pin, Remark } from '#api';
import { tells, type Report } from '#core/grade';
import { useModelQuery, useOverlayQuery } from '#web/api';
import { BuildLogReading } from '#web/build-log';
import { Button, dateTime, Panel, Tab, usePageKeys } from '#web/ui';
import { PartView } from '#web/viewer';

import { Causes } from './causes.tsx';
import { Compared } from './compared.tsx';
import { Difference } from './difference.tsx';
import { OddFeatures } from './features.tsx';
import { ReportLines } from './lines.tsx';
import { MarkedSheet } from './marked-sheet.tsx';
import { RuleLines } from './rules.tsx';
import { TypedLines } from './typed.tsx';

const FRAMES: Readonly<Record<Report['frame']['kind'], string>> = {
  'as-modeled': 'The part lies as the sheet puts it.',
  moved: 'The part was moved before it was measured: it lies beside where the sheet puts it.',
  turned: 'The part was turned before it was measured: it lies on another plane than the sheet puts it.',
  mirrored: 'The part is of the wrong hand: it was mirrored before it was measured.',
  scaled: 'All lengths are off by one factor: the part is in another unit.',
};

/** What is chosen: a check, a cause, or a face; each lights up the others that belong to it. */
type Choice =
  | { readonly kind: 'check'; readonly checkId: string }
  | { readonly kind: 'cause'; readonly message: string }
  | { readonly kind: 'faces'; readonly faceIds: readonly number[] }
  | null;

function facesOf(report: Report, choice: Choice): Set<number> {
  if (choice?.kind === 'faces') return new Set(choice.faceIds);
  const checkIds =
    choice?.kind === 'check'
      ? [choice.checkId]
      : (report.causes.find((cause) => choice?.kind === 'cause' && cause.message === choice.message)?.checkIds ?? []);
  return new Set(report.lines.filter((line) => checkIds.includes(line.checkId)).flatMap((line) => line.faceIds));
}

/** What an instructor can do beside reading. */
export interface Reviewing {
  /** What can be done with a line, by its id. */
  readonly actions: (lineId: string) => ReactNode;
  /** The next click on model or sheet gives the place of a remark. */
  readonly placing: boolean;
  readonly onPlace: (pin: Pin) => void;
  readonly onChosen: (checkId: string | null) => void;
  /** What is said about the attempt. */
  readonly conversation: ReactNode;
}

interface ReportViewProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
  readonly reviewing?: Reviewing;
  /** What is said about the attempt, for a student. */
  readonly words?: ReactNode;
}

/** Remarks by their numbers, which are those of their marks. */
const labelOf = (remarks: readonly Remark[], id: number): string =>
  String(remarks.findIndex((remark) => remark.id === id) + 1);

/** The model with its failed faces beside causes, checks and typed numbers. */
export function ReportView({ attempt, report, reviewing, words }: ReportViewProps) {
  const [choice, setChoice] = useState<Choice>(null);
  const failing = useMemo(() => report.lines.filter((line) => line.verdict !== 'right'), [report]);
  // A student first looks at what is wrong and where the sheet says it, and then by how much.
  const canTell = tells(report.detail, 'numbers');
  const startAsked = reviewing !== undefined || failing.length === 0;
  const [asked, setAsked] = useState(startAsked);
  const showNumbers = canTell && asked;
  const failedFaces = useMemo(
    () => new Set(failing.filter((line) => line.quantity !== 'count').flatMap((line) => line.faceIds)),
    [failing],
  );
  const [shown, setShown] = useState(false);
  const hasPieces = (report.overlay?.pieces.length ?? 0) > 0;
  const { data: overlay } = useOverlayQuery(attempt.id, { skip: !shown || !hasPieces });
  const pickedFaces = useMemo(() => facesOf(report, choice), [report, choice]);
  const [share, setShare] = useState(0);
  const { data: reference } = useModelQuery(`attempts/${String(attempt.id)}/reference`, {
    skip: reviewing === undefined,
  });
  const [of, setOf] = useState(attempt.id);
  if (of !== attempt.id) {
    setOf(attempt.id);
    setChoice(null);
    setAsked(startAsked);
    setShown(false);
    setShare(0);
  }
  const { remarks } = attempt.review;
  const modelPins = useMemo(
    () => remarks.flatMap(({ id, pin }) => (pin?.on === 'model' ? [{ label: labelOf(remarks, id), at: pin.at }] : [])),
    [remarks],
  );
  const sheetPins = useMemo(
    () =>
      remarks.flatMap(({ id, pin }) =>
        pin?.on === 'sheet' ? [{ label: labelOf(remarks, id), page: pin.page, at: pin.at }] : [],
      ),
    [remarks],
  );

  const chosen = choice?.kind === 'check' ? choice.checkId : null;
  const choose = (checkId: string | null): void => {
    setChoice(checkId === null ? null : { kind: 'check', checkId });
    reviewing?.onChosen(checkId);
  };
  useFailingKeys(
    failing.map(({ checkId }) => checkId),
    chosen,
    choose,
  );
  const pickFace = (faceId: number | null): void => {
    const on = (line: Report['lines'][number]) => faceId !== null && line.faceIds.includes(faceId);
    const line = failing.find(on) ?? report.lines.find(on);
    choose(line?.checkId ?? null);
  };
  const place = reviewing?.placing === true ? reviewing.onPlace : undefined;

  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 xl:grid-cols-[minmax(0,1fr)_minmax(0,44rem)]">
      <div className="flex flex-col gap-3 self-start xl:sticky xl:top-3 xl:max-h-[calc(100vh-1.5rem)] xl:overflow-y-auto">
        <Tabs.Root defaultValue="model" className="shrink-0 panel">
          <div className="flex items-center justify-between border-b border-rule">
            <Tabs.List aria-label="Model or sheet" className="flex">
              <Tab value="model">The model</Tab>
              <Tab value="sheet">The sheet, marked</Tab>
            </Tabs.List>
            {reviewing && reference && <Compared share={share} onShare={setShare} />}
          </div>
          <Tabs.Content value="model" className="h-[46vh] min-h-80">
            <PartView
              url={`attempts/${String(attempt.id)}/model`}
              label={`The model handed in; ${failing.length === 0 ? 'no face is marked' : 'faces of failed checks are striped'}`}
              failedFaces={failedFaces}
              pickedFaces={pickedFaces}
              pins={modelPins}
              keepView
              {...(shown && overlay ? { difference: overlay.pieces } : {})}
              {...(share > 0 && reference ? { compared: { model: reference, share } } : {})}
              {...(place ? { onPoint: (at) => place({ on: 'model', at }) } : {})}
              onPick={pickFace}
            />
          </Tabs.Content>
          <Tabs.Content value="sheet" className="h-[46vh] min-h-80">
            <MarkedSheet
              attemptId={attempt.id}
              report={report}
              chosen={chosen}
              showNumbers={showNumbers}
              pins={sheetPins}
              onChoose={choose}
              {...(place ? { onPoint: (page, at) => place({ on: 'sheet', page, at }) } : {})}
            />
          </Tabs.Content>
        </Tabs.Root>
        {report.causes.length > 0 && (
          <Panel title="Why, most probably">
            <Causes
              causes={report.causes}
              chosen={choice?.kind === 'cause' ? choice.message : null}
              onChoose={(message) => {
                setChoice(message === null ? null : { kind: 'cause', message });
              }}
            />
          </Panel>
        )}
        {reviewing?.conversation ?? words}
        {report.overlay && (
          <Panel title="Missing and extra material">
            <Difference attemptId={attempt.id} report={report} shown={shown} onShow={setShown} />
          </Panel>
        )}
        {report.missing.length + report.extra.length > 0 && (
          <Panel title="Features that only one of the two has">
            <OddFeatures
              report={report}
              onMark={(faceIds) => {
                setChoice({ kind: 'faces', faceIds });
              }}
            />
          </Panel>
        )}
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        {report.lines.length > 0 && (
          <Panel
            title={
              failing.length === 0
                ? 'Every check is right'
                : `${String(failing.length)} of ${String(report.lines.length)} checks are not right`
            }
            className="overflow-x-auto"
            aside={
              canTell &&
              !asked && (
                <Button
                  className="my-1"
                  onClick={() => {
                    setAsked(true);
                  }}
                >
                  Show how far off
                </Button>
              )
            }
          >
            <ReportLines
              report={report}
              chosen={chosen}
              onChoose={choose}
              showNumbers={showNumbers}
              actions={reviewing?.actions}
            />
          </Panel>
        )}
        {report.lines.length === 0 && (
          <Panel title="The score is all that this report tells">
            <p className="px-3 py-2">
              Measure your model against the sheet once more, dimension by dimension, before you hand in again.
            </p>
          </Panel>
        )}
        {report.typed.length > 0 && (
          <Panel title="Typed numbers" className="overflow-x-auto">
            <TypedLines report={report} actions={reviewing?.actions} />
          </Panel>
        )}
        {report.rules.length + report.questions.length > 0 && (
          <Panel
            title={
              attempt.buildLog === ''
                ? 'How it was built, as far as the shape tells'
                : 'How it was built, by list and shape'
            }
          >
            <RuleLines rules={report.rules} questions={report.questions} actions={reviewing?.actions} />
            {attempt.buildLog.trim() !== '' && (
              <div className="border-t border-rule px-3 py-2">
                <BuildLogReading text={attempt.buildLog} />
              </div>
            )}
          </Panel>
        )}
        {(report.warnings.length > 0 || report.frame.kind !== 'as-modeled' || attempt.scored !== null) && (
          <Panel title="About the file">
            <ul className="px-3 py-2">
              {report.frame.kind !== 'as-modeled' && (
                <li>
                  {FRAMES[report.frame.kind]} ({Math.round(100 * report.frame.certainty)} % sure)
                </li>
              )}
              {report.warnings.map((warning) => (
                <li key={warning.code}>{warning.message}</li>
              ))}
              {attempt.scored && <li className="caption break-all">{traceOf(attempt, attempt.scored)}</li>}
            </ul>
          </Panel>
        )}
      </div>
    </div>
  );
}

/** What a score was made of, so that it can be told years later. */
const traceOf = (
  { fileSha256, gradedAt, durationMs, assignment }: AttemptDetail,
  { program, ownPolicy }: NonNullable<AttemptDetail['scored']>,
): string =>
  [
    `Measured ${gradedAt === null ? '' : dateTime(gradedAt)}${durationMs === null ? '' : ` in ${String(durationMs)} ms`}`,
    `against revision ${String(assignment.revision)}`,
    `scored by Zorvet ${program === '' ? 'of an earlier version' : program}`,
    ownPolicy ? 'as set for this assignment' : 'as the exercise says',
    `SHA-256 of the file ${fileSha256}`,
  ].join(', ') + '.';

/** J and K go through the checks that are not right. */
function useFailingKeys(failing: readonly string[], chosen: string | null, choose: (checkId: string) => void): void {
  const go = (by: 1 | -1) => (): void => {
    const at = chosen === null ? (by > 0 ? -1 : 0) : failing.indexOf(chosen);
    const checkId = failing[(at + by + failing.length) % failing.length];
    if (checkId === undefined) return;
    choose(checkId);
    document.querySelector(`tr[data-check="${CSS.escape(checkId)}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  usePageKeys({ j: go(1), k: go(-1) });
}
