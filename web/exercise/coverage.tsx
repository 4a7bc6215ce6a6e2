import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';

import type { CoverageAnswer, ExerciseDetail } from '#api';
import { saysWhere } from '#core/check';
import { withProposed, type Coverage, type CoverageRow, type Proposal } from '#core/mistake';
import {
  failureText,
  useCoverageQuery,
  useLazyDraftQuery,
  useRetryCoverageMutation,
  useSaveDraftMutation,
  useVariantBlursQuery,
} from '#web/api';
import { Button, dateTime, Empty, Failed, Loading, plural, ProgressBar } from '#web/ui';

const POLL_MS = 3000;
const SLOW_POLL_MS = 15_000;
const percent = (share: number): string => `${String(Math.round(share * 100))} %`;

interface CoverageProps {
  readonly exercise: ExerciseDetail;
  readonly chosen: string | null;
  readonly onChoose: (checkId: string | null) => void;
}

/** Which mistakes would the check plan catch? Tested with every mistake of the part. */
export function CoverageTab(props: CoverageProps) {
  const { id } = props.exercise;
  const [isMade, setIsMade] = useState(false);
  const { data, error, refetch } = useCoverageQuery(id, { pollingInterval: isMade ? 0 : POLL_MS });
  const done = data !== undefined && (data.state === 'done' || data.state === 'none' || data.state === 'failed');
  if (done !== isMade) setIsMade(done);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the mistakes" />;
  if (data.coverage === null) return <Making exerciseId={id} answer={data} />;
  const { entries, unchanged, unbuilt } = data.coverage.counts;
  if (entries + unchanged + unbuilt === 0)
    return (
      <Empty>
        No mistake could be made in this model file. That takes exact surfaces (STEP, no triangles) and features that
        are recognized in them.
      </Empty>
    );
  return <Covered {...props} coverage={data.coverage} proposals={data.proposals} />;
}

/** Why there are no mistakes, when that may change by itself, and a button for those who do not want to wait. */
function NotMade({ exerciseId, answer: { reason, retryAt } }: MakingProps) {
  const [retry, { isLoading }] = useRetryCoverageMutation();
  return (
    <Empty>
      <p>The mistakes could not be built. {reason}</p>
      <p>
        {retryAt === null ? 'They are not tried again by themselves.' : `They are tried again ${dateTime(retryAt)}.`}
      </p>
      <Button onClick={() => void retry(exerciseId)} disabled={isLoading}>
        Try again now
      </Button>
    </Empty>
  );
}

interface MakingProps {
  readonly exerciseId: number;
  readonly answer: CoverageAnswer;
}

function Making({ exerciseId, answer }: MakingProps) {
  const { state, done, total } = answer;
  if (state === 'none') return <Empty>This part has no steps to go wrong in.</Empty>;
  if (state === 'failed') return <NotMade exerciseId={exerciseId} answer={answer} />;
  return (
    <div className="px-3 py-6 text-center" role="status">
      <p className="font-medium">
        {state === 'waiting' ? 'Waiting for its turn' : `Building mistakes: ${String(done)} of ${String(total)}`}
      </p>
      <div className="mx-auto mt-3 w-64">
        <ProgressBar done={done} total={total} label="Mistakes that are built" />
      </div>
      <p className="mt-2 text-soft">Each is built and measured once; grading goes first.</p>
    </div>
  );
}

function Covered({
  exercise,
  chosen,
  onChoose,
  coverage,
  proposals,
}: CoverageProps & { coverage: Coverage; proposals: readonly Proposal[] }) {
  const [picked, setPicked] = useState<string | null>(null);
  const checks = exercise.document.checks.filter(({ off, weight }) => off !== true && weight > 0);
  const saying = new Set(checks.filter(saysWhere).map(({ id }) => id));
  const quiet = coverage.rows.filter(({ caughtBy }) => caughtBy.length > 0 && !caughtBy.some((id) => saying.has(id)));
  const row = coverage.rows.find(({ mistake }) => mistake.id === picked);
  return (
    <div className="flex flex-col" data-testid="coverage">
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-rule px-3 py-3">
        <p>
          <b className="text-2xl">{percent(coverage.score)}</b> of likely mistakes are caught
        </p>
        <p>
          <b className="text-2xl">{percent(coverage.located)}</b> by a check that says where
        </p>
        <p className="text-soft">
          {plural(coverage.counts.entries, 'mistake')} built; {String(coverage.counts.unchanged)} change nothing,{' '}
          {String(coverage.counts.unbuilt)} give no part
          {exercise.document.model && '; made in the features that were recognized in the file'}
        </p>
      </div>
      <Spots
        title="Caught by no check"
        rows={coverage.blind}
        proposals={proposals}
        exercise={exercise}
        onPick={setPicked}
      />
      <Spots
        title="Caught by the mass properties alone, which do not say where"
        rows={quiet}
        proposals={proposals}
        exercise={exercise}
        onPick={setPicked}
      />
      <Hints coverage={coverage} exercise={exercise} />
      {exercise.document.variants.length > 0 && <Variants exerciseId={exercise.id} />}
      {row && (
        <p className="border-b border-rule bg-accent-soft px-3 py-2" role="status">
          {row.mistake.message}
        </p>
      )}
      <div className="max-h-[60vh] overflow-auto">
        <table
          className="border-separate border-spacing-0 text-sm"
          aria-label="Mistakes and the checks that catch them"
        >
          <thead>
            <tr>
              <th
                scope="col"
                className="sticky top-0 left-0 z-20 min-w-72 border-b border-rule bg-paper px-3 py-1 text-left align-bottom"
              >
                Mistake, the likeliest first
              </th>
              {checks.map(({ id, label }) => (
                <th key={id} scope="col" className="sticky top-0 z-10 h-36 border-b border-rule bg-paper align-bottom">
                  <button
                    type="button"
                    aria-pressed={chosen === id}
                    className="h-36 w-6 cursor-pointer px-0 text-left font-normal [writing-mode:sideways-lr] hover:bg-accent-soft aria-pressed:bg-accent-soft aria-pressed:font-semibold"
                    onClick={() => {
                      onChoose(chosen === id ? null : id);
                    }}
                  >
                    <span className="block max-h-34 truncate">{label}</span>
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {[...coverage.rows]
              .sort((a, b) => b.mistake.prior - a.mistake.prior)
              .map(({ mistake, caughtBy }) => (
                <tr key={mistake.id} className={picked === mistake.id ? 'bg-accent-soft' : ''}>
                  <th
                    scope="row"
                    className="sticky left-0 max-w-96 border-b border-rule bg-paper p-0 text-left font-normal"
                  >
                    <button
                      type="button"
                      className="w-full cursor-pointer truncate px-3 py-0.5 text-left hover:bg-accent-soft"
                      title={mistake.message}
                      onClick={() => {
                        setPicked(picked === mistake.id ? null : mistake.id);
                      }}
                    >
                      {mistake.summary}
                    </button>
                  </th>
                  {checks.map(({ id }) => (
                    <td
                      key={id}
                      className={`border-b border-l border-rule text-center ${chosen === id ? 'bg-accent-soft' : ''}`}
                    >
                      {caughtBy.includes(id) ? <span aria-label="catches it">■</span> : null}
                    </td>
                  ))}
                </tr>
              ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

/** Mistakes that are not caught, or not located, with the check that would do it. */
function Spots({
  title,
  rows,
  proposals,
  exercise,
  onPick,
}: {
  title: string;
  rows: readonly CoverageRow[];
  proposals: readonly Proposal[];
  exercise: ExerciseDetail;
  onPick: (mistakeId: string) => void;
}) {
  const [load] = useLazyDraftQuery();
  const [save, { isLoading }] = useSaveDraftMutation();
  /** Labels of checks that were added here, or that the draft had already. */
  const [inDraft, setInDraft] = useState<ReadonlySet<string>>(new Set());
  if (rows.length === 0) return null;
  const add = async ({ check }: Proposal): Promise<void> => {
    try {
      const { version, document } = await load(exercise.id).unwrap();
      const checks = withProposed(document.checks, check);
      if (checks !== null) await save({ id: exercise.id, version, document: { ...document, checks } }).unwrap();
      setInDraft((known) => new Set(known).add(check.label));
    } catch (error) {
      toast.error(failureText(error));
    }
  };
  return (
    <section className="border-b border-rule">
      <h3 className="px-3 pt-2 font-semibold">
        {title}: {String(rows.length)}
      </h3>
      <ul className="divide-y divide-rule text-sm">
        {rows.slice(0, 8).map(({ mistake }) => {
          const proposal = proposals.find(({ mistakeId }) => mistakeId === mistake.id);
          return (
            <li key={mistake.id} className="flex flex-wrap items-center gap-3 px-3 py-1">
              <button
                type="button"
                className="cursor-pointer text-left hover:underline"
                onClick={() => {
                  onPick(mistake.id);
                }}
              >
                {mistake.summary}
              </button>
              {proposal && inDraft.has(proposal.check.label) && (
                <span role="status">
                  "{proposal.check.label}" is in the draft.{' '}
                  <Link className="underline" to={`/exercises/${String(exercise.id)}/edit`}>
                    Make a revision
                  </Link>{' '}
                  to issue it.
                </span>
              )}
              {proposal && !inDraft.has(proposal.check.label) && (
                <Button disabled={isLoading} onClick={() => void add(proposal)}>
                  Add the check "{proposal.check.label}"
                </Button>
              )}
            </li>
          );
        })}
      </ul>
      {rows.length > 8 && (
        <p className="px-3 pb-1 text-sm text-soft">and {String(rows.length - 8)} more, in the table</p>
      )}
    </section>
  );
}

function Hints({ coverage, exercise }: { coverage: Coverage; exercise: ExerciseDetail }) {
  const label = (id: string): string => exercise.document.checks.find((check) => check.id === id)?.label ?? id;
  const parts = [
    coverage.idle.length > 0 &&
      `${plural(coverage.idle.length, 'check')} never ${coverage.idle.length === 1 ? 'decides' : 'decide'} anything alone: ${coverage.idle.slice(0, 4).map(label).join(', ')}${coverage.idle.length > 4 ? ' ...' : ''}.`,
    coverage.keepVolume.length > 0 &&
      `${plural(coverage.keepVolume.length, 'mistake')} ${coverage.keepVolume.length === 1 ? 'leaves' : 'leave'} the volume as it is: a key of one number would not notice.`,
    coverage.alike.length > 0 &&
      `${plural(coverage.alike.length, 'group')} of mistakes have the same volume and center of mass.`,
  ].filter((words) => words !== false);
  if (parts.length === 0) return null;
  return (
    <ul className="border-b border-rule px-3 py-2 text-sm text-soft">
      {parts.map((words) => (
        <li key={words}>{words}</li>
      ))}
    </ul>
  );
}

const MOST_NAMED = 4;
const more = (list: readonly unknown[]): number => Math.max(0, list.length - MOST_NAMED);

/** Values that make mistakes hard to tell, which those of the part as drawn do not. */
function Variants({ exerciseId }: { exerciseId: number }) {
  const [isTested, setIsTested] = useState(false);
  const { data } = useVariantBlursQuery(exerciseId, { pollingInterval: isTested ? 0 : SLOW_POLL_MS });
  const done = data?.waiting === 0;
  if (done !== isTested) setIsTested(done);
  if (data === undefined) return null;
  const { variants, tested, waiting, blurs } = data;
  const failed = variants - tested - waiting;
  return (
    <section className="border-b border-rule px-3 py-2 text-sm" aria-label="Values of the variants">
      <h3 className="font-semibold">Values of the variants</h3>
      <p className="text-soft">
        {tested === 0
          ? 'Their mistakes are built after those of the part as drawn.'
          : blurs.length === 0
            ? `${plural(tested, 'variant')} tested: mistakes are told apart as well as in the part as drawn.`
            : `${plural(blurs.length, 'variant')} of ${String(tested)} make some mistakes harder to tell than the part as drawn does. Other values would be better there.`}
        {tested > 0 && waiting > 0 && ` ${plural(waiting, 'variant')} not tested yet.`}
        {tested > 0 && failed > 0 && ` The mistakes of ${plural(failed, 'variant')} could not be built.`}
      </p>
      {blurs.map(({ name, keepVolume, alike }) => (
        <details key={name} className="mt-1">
          <summary className="cursor-pointer">
            <b>Variant {name}</b>:{' '}
            {[
              keepVolume.length > 0 && `${plural(keepVolume.length, 'mistake')} would not show in the volume`,
              alike.length > 0 && `${plural(alike.length, 'pair')} of mistakes look the same`,
            ]
              .filter(Boolean)
              .join('; ')}
          </summary>
          <ul className="list-disc pl-6 text-soft">
            {keepVolume.slice(0, MOST_NAMED).map((words) => (
              <li key={words}>{words}: the volume stays within its tolerance</li>
            ))}
            {alike.slice(0, MOST_NAMED).map(([a, b]) => (
              <li key={`${a} ${b}`}>
                {a} <i>and</i> {b}: same volume and center of mass
              </li>
            ))}
            {more(keepVolume) + more(alike) > 0 && <li>and {String(more(keepVolume) + more(alike))} more</li>}
          </ul>
        </details>
      ))}
    </section>
  );
}
