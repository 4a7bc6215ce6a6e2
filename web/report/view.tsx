import { useMemo, useState } from 'react';

import type { AttemptDetail } from '#api';
import type { Report } from '#core/grade';
import { Panel } from '#web/ui';
import { PartView } from '#web/viewer';

import { Causes } from './causes.tsx';
import { ReportLines } from './lines.tsx';
import { TypedLines } from './typed.tsx';

/** What is chosen: a check, a cause, or a face; each lights up the others that belong to it. */
type Choice =
  { readonly kind: 'check'; readonly checkId: string } | { readonly kind: 'cause'; readonly message: string } | null;

function facesOf(report: Report, choice: Choice): Set<number> {
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
        <div className="h-[46vh] min-h-80 panel">
          <PartView
            url={`attempts/${String(attempt.id)}/model`}
            label={`The model handed in; ${failing === 0 ? 'no face is marked' : 'faces of failed checks are striped'}`}
            failedFaces={failedFaces}
            pickedFaces={pickedFaces}
            onPick={pickFace}
          />
        </div>
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
        {report.warnings.length > 0 && (
          <Panel title="About the file">
            <ul className="px-3 py-2">
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
