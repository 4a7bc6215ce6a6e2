import { Tabs } from 'radix-ui';
import { useMemo, useState } from 'react';

import type { AttemptDetail } from '#api';
import type { Report } from '#core/grade';
import { useOverlayQuery } from '#web/api';
import { Panel, Tab } from '#web/ui';
import { PartView } from '#web/viewer';

import { Causes } from './causes.tsx';
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

/** The model with its failed faces beside causes, checks and typed numbers. */
export function ReportView({ attempt, report }: { attempt: AttemptDetail; report: Report }) {
  const [choice, setChoice] = useState<Choice>(null);
  const failedFaces = useMemo(
    () =>
      new Set(
        report.lines
          .filter((line) => line.verdict !== 'right' && line.quantity !== 'count')
          .flatMap((line) => line.faceIds),
      ),
    [report],
  );
  const [shown, setShown] = useState(false);
  const hasPieces = (report.overlay?.pieces.length ?? 0) > 0;
  const { data: overlay } = useOverlayQuery(attempt.id, { skip: !shown || !hasPieces });
  const pickedFaces = useMemo(() => facesOf(report, choice), [report, choice]);

  const pickFace = (faceId: number | null): void => {
    const on = (line: Report['lines'][number]) => faceId !== null && line.faceIds.includes(faceId);
    const line =
      report.lines.find((candidate) => candidate.verdict !== 'right' && on(candidate)) ?? report.lines.find(on);
    setChoice(line ? { kind: 'check', checkId: line.checkId } : null);
  };
  const failing = report.lines.filter((line) => line.verdict !== 'right').length;

  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 xl:grid-cols-[minmax(0,1fr)_minmax(0,44rem)]">
      <div className="flex flex-col gap-3 self-start xl:sticky xl:top-4">
        <Tabs.Root defaultValue="model" className="panel">
          <Tabs.List aria-label="Model or sheet" className="flex border-b border-rule">
            <Tab value="model">The model</Tab>
            <Tab value="sheet">The sheet, marked</Tab>
          </Tabs.List>
          <Tabs.Content value="model" className="h-[46vh] min-h-80">
            <PartView
              url={`attempts/${String(attempt.id)}/model`}
              label={`The model handed in; ${failing === 0 ? 'no face is marked' : 'faces of failed checks are striped'}`}
              failedFaces={failedFaces}
              pickedFaces={pickedFaces}
              {...(shown && overlay ? { difference: overlay.pieces } : {})}
              onPick={pickFace}
            />
          </Tabs.Content>
          <Tabs.Content value="sheet" className="h-[46vh] min-h-80">
            <MarkedSheet
              attemptId={attempt.id}
              report={report}
              chosen={choice?.kind === 'check' ? choice.checkId : null}
              onChoose={(checkId) => {
                setChoice(checkId === null ? null : { kind: 'check', checkId });
              }}
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
        <Panel
          title={
            failing === 0
              ? 'Every check is right'
              : `${String(failing)} of ${String(report.lines.length)} checks are not right`
          }
          className="overflow-x-auto"
        >
          <ReportLines
            report={report}
            chosen={choice?.kind === 'check' ? choice.checkId : null}
            onChoose={(checkId) => {
              setChoice(checkId === null ? null : { kind: 'check', checkId });
            }}
          />
        </Panel>
        {report.typed.length > 0 && (
          <Panel title="Typed numbers" className="overflow-x-auto">
            <TypedLines report={report} />
          </Panel>
        )}
        {report.rules.length > 0 && (
          <Panel title="How it was built, as far as the shape tells">
            <RuleLines rules={report.rules} />
          </Panel>
        )}
        {(report.warnings.length > 0 || report.frame.kind !== 'as-modeled') && (
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
            </ul>
          </Panel>
        )}
      </div>
    </div>
  );
}
