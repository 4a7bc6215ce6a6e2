import { Tabs } from 'radix-ui';

import type { AttemptDetail } from '#api';
import type { Report } from '#core/grade';
import { useModelQuery, useOverlayQuery } from '#web/api';
import { Tab } from '#web/ui';
import { PartView } from '#web/viewer';

import { usePins, type Looking } from './choice.ts';
import { Compared } from './compared.tsx';
import { MarkedSheet } from './marked-sheet.tsx';
import type { Reviewing } from './reviewing.ts';

interface PicturesProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
  readonly reviewing: Reviewing | undefined;
  readonly looking: Looking;
}

/** The model that was handed in with its failed faces, and the marked sheet. */
export function Pictures({ attempt, report, reviewing, looking }: PicturesProps) {
  const { failing, failedFaces, pickedFaces, shown, share, setShare, chosen, choose, pickFace } = looking;
  const hasPieces = (report.overlay?.pieces.length ?? 0) > 0;
  const { data: overlay } = useOverlayQuery(attempt.id, { skip: !shown || !hasPieces });
  const { data: reference } = useModelQuery(`attempts/${String(attempt.id)}/reference`, {
    skip: reviewing === undefined,
  });
  const pins = usePins(attempt);
  const place = reviewing?.placing === true ? reviewing.onPlace : undefined;
  return (
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
          pins={pins.model}
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
          showNumbers={looking.canTell && looking.asked}
          pins={pins.sheet}
          onChoose={choose}
          {...(place ? { onPoint: (page, at) => place({ on: 'sheet', page, at }) } : {})}
        />
      </Tabs.Content>
    </Tabs.Root>
  );
}
