import type { ReactNode } from 'react';

import type { AttemptDetail } from '#api';
import type { Report } from '#core/grade';
import { BuildLogReading } from '#web/build-log';
import { Button, Panel } from '#web/ui';

import { AboutFile } from './about-file.tsx';
import { Causes } from './causes.tsx';
import { useLooking, type Looking } from './choice.ts';
import { Difference } from './difference.tsx';
import { OddFeatures } from './features.tsx';
import { ReportLines } from './lines.tsx';
import { Pictures } from './pictures.tsx';
import type { Reviewing } from './reviewing.ts';
import { RuleLines } from './rules.tsx';
import { TypedLines } from './typed.tsx';

interface ReportViewProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
  readonly reviewing?: Reviewing;
  /** What is said about the attempt, for a student. */
  readonly words?: ReactNode;
}

/** The model with its failed faces beside causes, checks and typed numbers. */
export function ReportView({ attempt, report, reviewing, words }: ReportViewProps) {
  const looking = useLooking(attempt, report, reviewing);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 xl:grid-cols-[minmax(0,1fr)_minmax(0,44rem)]">
      <div className="flex flex-col gap-3 self-start xl:sticky xl:top-3 xl:max-h-[calc(100vh-1.5rem)] xl:overflow-y-auto">
        <Pictures attempt={attempt} report={report} reviewing={reviewing} looking={looking} />
        <Why attempt={attempt} report={report} looking={looking}>
          {reviewing?.conversation ?? words}
        </Why>
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        <CheckedLines report={report} reviewing={reviewing} looking={looking} />
        {report.typed.length > 0 && (
          <Panel title="Typed numbers" className="overflow-x-auto">
            <TypedLines report={report} actions={reviewing?.actions} />
          </Panel>
        )}
        <HowBuilt attempt={attempt} report={report} reviewing={reviewing} />
        <AboutFile attempt={attempt} report={report} />
      </div>
    </div>
  );
}

interface WhyProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
  readonly looking: Looking;
  readonly children: ReactNode;
}

/** Causes, what is said about the attempt, and what differs in the model. */
function Why({ attempt, report, looking, children }: WhyProps) {
  const { choice, setChoice, shown, setShown } = looking;
  return (
    <>
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
      {children}
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
    </>
  );
}

interface CheckedLinesProps {
  readonly report: Report;
  readonly reviewing: Reviewing | undefined;
  readonly looking: Looking;
}

/** The checks, or a sentence where the report tells only the score. */
function CheckedLines({ report, reviewing, looking }: CheckedLinesProps) {
  const { failing, canTell, asked, ask, chosen, choose } = looking;
  if (report.lines.length === 0)
    return (
      <Panel title="The score is all that this report tells">
        <p className="px-3 py-2">
          Measure your model against the sheet once more, dimension by dimension, before you hand in again.
        </p>
      </Panel>
    );
  return (
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
          <Button className="my-1" onClick={ask}>
            Show how far off
          </Button>
        )
      }
    >
      <ReportLines
        report={report}
        chosen={chosen}
        onChoose={choose}
        showNumbers={canTell && asked}
        actions={reviewing?.actions}
      />
    </Panel>
  );
}

interface HowBuiltProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
  readonly reviewing: Reviewing | undefined;
}

/** What the build rules say, and how the student's list of steps is understood. */
function HowBuilt({ attempt, report, reviewing }: HowBuiltProps) {
  if (report.rules.length + report.questions.length === 0) return null;
  return (
    <Panel
      title={
        attempt.buildLog === '' ? 'How it was built, as far as the shape tells' : 'How it was built, by list and shape'
      }
    >
      <RuleLines rules={report.rules} questions={report.questions} actions={reviewing?.actions} />
      {attempt.buildLog.trim() !== '' && (
        <div className="border-t border-rule px-3 py-2">
          <BuildLogReading text={attempt.buildLog} />
        </div>
      )}
    </Panel>
  );
}
