import { useState } from 'react';
import { Link } from 'react-router';

import type { RoundLine, WorkDetail } from '#api';
import { SheetView } from '#web/sheet';
import { PageHead } from '#web/ui';
import { PageOfWork } from '#web/work';

import { RoundList } from './round-list.tsx';

/** Does my model have every size that the sheet says? */
export const RoundPage = () => <PageOfWork>{(work) => <GoingRound work={work} />}</PageOfWork>;

function GoingRound({ work }: { readonly work: WorkDetail }) {
  const [current, setCurrent] = useState<RoundLine | null>(null);
  const to = (page: string): string => `/my/${String(work.id)}${page}?stage=${String(work.stage)}`;
  return (
    <>
      <PageHead
        answer={`Go round the sheet of ${work.exerciseTitle.toLowerCase()}`}
        detail={
          <>
            Measure your model in your own program, or{' '}
            <Link className="underline" to={to('/measure')}>
              drop the file here and measure it in the page
            </Link>
            . Each dimension is ticked off once it was read.{' '}
            <Link className="underline" to={to('')}>
              To the exercise
            </Link>
          </>
        }
      />
      {work.aids.round === 'none' ? (
        <p>Your course does without this.</p>
      ) : (
        <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_27rem]">
          <div className="sticky top-0 z-10 aspect-[420/297] min-w-0 lg:top-4">
            <SheetView
              url={`work/${String(work.id)}/sheet.svg?stage=${String(work.stage)}`}
              at={current === null ? null : { checkId: current.checkId, page: current.page }}
            />
          </div>
          <RoundList work={work} onCurrent={setCurrent} />
        </div>
      )}
    </>
  );
}
