import { useState } from 'react';
import { Link } from 'react-router';

import type { Along, PaperPoint, SizeAnswer, SizeQuestion, WorkDetail, WorkedSize } from '#api';
import { useAskSizeMutation } from '#web/api';
import { SheetView, type SheetPin } from '#web/sheet';
import { PageHead, Panel, Refused } from '#web/ui';
import { PageOfWork } from '#web/work';

import { Asked } from './asked.tsx';
import { ShopSums } from './shop-sums.tsx';
import { useWorkedSizes } from './worked-sizes.ts';

/** How large is what the sheet does not write? */
export const SizesPage = () => <PageOfWork>{(work) => <WorkingOut work={work} />}</PageOfWork>;

const LETTERS = 'abcdefghijklmnopqrstuvwxyz';

/** A mark on the sheet for each size that was worked out, halfway between its lines. */
const pinsOf = (kept: readonly WorkedSize[]): SheetPin[] =>
  kept.map(({ from, to }, i) => ({
    label: LETTERS[i % LETTERS.length] ?? '',
    page: from.page,
    at: [(from.at[0] + to.at[0]) / 2, (from.at[1] + to.at[1]) / 2],
  }));

function WorkingOut({ work }: { readonly work: WorkDetail }) {
  const place = { id: work.id, stage: work.stage };
  const isHelped = work.aids.sizes !== 'none';
  const [points, setPoints] = useState<readonly PaperPoint[]>([]);
  const [along, setAlong] = useState<Along | null>(null);
  const [shown, setShown] = useState(0);
  const [answer, setAnswer] = useState<SizeAnswer | null>(null);
  const [ask, { error, isLoading, reset }] = useAskSizeMutation();
  const { kept, keep, remove, error: unkept } = useWorkedSizes(work);
  const [from, to] = points;
  const send = (change: Partial<SizeQuestion>): void => {
    const [first, second] = [change.from ?? from, change.to ?? to];
    if (first === undefined || second === undefined) return;
    void ask({ ...place, along, shown, sum: null, ...change, from: first, to: second }).then(({ data }) => {
      setAnswer(data ?? null);
    });
  };
  const pick = (page: number, at: readonly [number, number]): void => {
    const point: PaperPoint = { page, at: [at[0], at[1]] };
    setShown(0);
    setAlong(null);
    setAnswer(null);
    if (from === undefined || to !== undefined) {
      setPoints([point]);
      reset();
    } else {
      setPoints([from, point]);
      send({ from, to: point, along: null, shown: 0 });
    }
  };
  const marks = answer !== null && to !== undefined ? answer.marks : points;
  const pins = [...pinsOf(kept), ...marks.map(({ page, at }, i): SheetPin => ({ label: String(i + 1), page, at }))];
  const lastLink = answer?.links.at(-1)?.dimension?.checkId;
  return (
    <>
      <PageHead
        answer="Work out what the sheet does not write"
        detail={
          <>
            {isHelped
              ? 'Pick two lines of one view on the sheet: edges, faces from the side, or center lines. '
              : 'Your course leaves the chains to you; the calculator is here. '}
            <Link className="underline" to={`/my/${String(work.id)}?stage=${String(work.stage)}`}>
              To the exercise
            </Link>
          </>
        }
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
        <div className="aspect-[420/297] min-w-0 lg:sticky lg:top-4">
          <SheetView
            url={`work/${String(work.id)}/sheet.svg?stage=${String(work.stage)}`}
            marked={lastLink ?? ''}
            pins={pins}
            {...(isHelped ? { onPoint: pick } : {})}
          />
        </div>
        <div className="flex flex-col gap-4">
          {isHelped && (
            <Panel title="A size">
              {to === undefined && (
                <p role="status" className="p-3 text-soft">
                  {from === undefined ? 'Pick the first line on the sheet.' : 'Pick the second line.'}
                </p>
              )}
              {to !== undefined && <Refused error={error} />}
              {to !== undefined && answer && (
                <Asked
                  key={JSON.stringify(points)}
                  answer={answer}
                  help={work.aids.sizes}
                  isBusy={isLoading}
                  onLinks={(count) => {
                    setShown(count);
                    send({ shown: count });
                  }}
                  onAlong={(way) => {
                    setAlong(way);
                    setShown(0);
                    send({ along: way, shown: 0 });
                  }}
                  onSum={(sum) => {
                    send({ sum });
                  }}
                  onKeep={(size) => {
                    keep({ ...size, from: answer.marks[0], to: answer.marks[1] });
                    setPoints([]);
                    setAnswer(null);
                    reset();
                  }}
                />
              )}
              <Refused error={unkept} />
              <KeptSizes kept={kept} onRemove={remove} />
            </Panel>
          )}
          <ShopSums unit={work.unit} />
        </div>
      </div>
    </>
  );
}

interface KeptSizesProps {
  readonly kept: readonly WorkedSize[];
  readonly onRemove: (place: number) => void;
}

/** What was worked out, with the letters by which it stands on the sheet. */
function KeptSizes({ kept, onRemove }: KeptSizesProps) {
  if (kept.length === 0) return null;
  return (
    <ul className="divide-y divide-rule border-t border-rule" data-testid="kept-sizes">
      {kept.map(({ name, sum }, i) => (
        <li key={`${sum} ${String(i)}`} className="flex items-baseline justify-between gap-2 px-3 py-1 text-sm">
          <span>
            <span className="font-semibold">{LETTERS[i % LETTERS.length]}</span> {name} = {sum}
          </span>
          <button
            type="button"
            className="cursor-pointer text-soft underline"
            onClick={() => {
              onRemove(i);
            }}
          >
            Remove
          </button>
        </li>
      ))}
    </ul>
  );
}
