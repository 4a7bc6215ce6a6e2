import { Tabs } from 'radix-ui';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';

import type { DraftDetail } from '#api';
import { useDraftQuery, useSaveDraftMutation } from '#web/api';
import { Failed, Loading, PageHead, Tab } from '#web/ui';
import { openWorkshop, type WorkshopClient } from '#web/workshop';

import { AboutTab } from './about-tab.tsx';
import { useDocument } from './document.ts';
import { useValuesOf, ValuesProvider } from './form/context.ts';
import { MakeRevision } from './make-revision.tsx';
import { PartTab } from './part-tab.tsx';
import { PlanTab } from './plan-tab.tsx';
import { usePreview } from './preview.ts';
import { SheetTab } from './sheet-tab.tsx';
import { RevisionsTab } from './revisions-tab.tsx';
import { Leaving, Saving, UndoAndRedo, useHistoryKeys } from './saving.tsx';
import { VariantsTab } from './variants/index.ts';

/** What is this exercise, and can it be issued? */
export function EditorPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useDraftQuery(id, { refetchOnMountOrArgChange: true });
  const [workshop] = useState(() => openWorkshop(id));
  useEffect(
    () => () => {
      workshop.close();
    },
    [workshop],
  );
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the exercise" />;
  return (
    <Editor
      key={data.id}
      draft={data}
      workshop={workshop}
      latest={async () => {
        const answer = await refetch();
        return answer.data ?? null;
      }}
    />
  );
}

function Editor({
  draft,
  workshop,
  latest,
}: {
  draft: DraftDetail;
  workshop: WorkshopClient;
  latest: () => Promise<DraftDetail | null>;
}) {
  const [opened] = useState(draft);
  const [save] = useSaveDraftMutation();
  const edited = useDocument(opened, (version, document) => save({ id: opened.id, version, document }));
  const { document: exercise, change, undo, redo } = edited;
  const [until, setUntil] = useState<string | null>(null);
  const preview = usePreview(workshop, exercise, until);
  const values = useValuesOf(exercise);
  useHistoryKeys(undo, redo);
  return (
    <ValuesProvider value={values}>
      <PageHead
        answer={exercise.title}
        detail={<Saving edited={edited} what="exercise" latest={latest} />}
        actions={
          <>
            <UndoAndRedo undo={undo} redo={redo} />
            <MakeRevision edited={edited} id={draft.id} />
            {edited.state.kind === 'saved' ? (
              <a
                href={`/api/exercises/${String(draft.id)}/export.zip`}
                className="inline-flex h-8 items-center px-3 text-sm underline"
                download
              >
                Export
              </a>
            ) : (
              <span className="inline-flex h-8 items-center px-3 text-sm text-soft" title="As soon as it is saved">
                Export
              </span>
            )}
            {draft.revision !== null && (
              <Link
                to={`/exercises/${String(draft.id)}`}
                className="inline-flex h-8 items-center px-3 text-sm underline"
              >
                As it is issued
              </Link>
            )}
          </>
        }
        facts={[
          { label: 'Number', value: exercise.number },
          { label: 'Revision', value: draft.revision === null ? 'none yet' : String(draft.revision) },
          { label: 'Unit', value: exercise.recipe.unit },
          {
            label: 'Material',
            value: `${exercise.material.name}, ${String(exercise.material.densityGPerCm3)} g/cm³`,
            span: 4,
          },
          { label: 'Level', value: exercise.level },
        ]}
      />
      <Leaving edited={edited} what="exercise" />
      <Tabs.Root defaultValue="part">
        <Tabs.List aria-label="Parts of the exercise" className="mb-4 flex border-b border-rule">
          <Tab value="part">Part</Tab>
          <Tab value="plan">Check plan</Tab>
          <Tab value="sheet">Sheet</Tab>
          <Tab value="variants">Variants and key</Tab>
          <Tab value="about">Description and rules</Tab>
          <Tab value="revisions">Revisions</Tab>
        </Tabs.List>
        <Tabs.Content value="part">
          <PartTab
            id={draft.id}
            exercise={exercise}
            preview={preview}
            workshop={workshop}
            until={until}
            onUntil={setUntil}
            onChange={change}
          />
        </Tabs.Content>
        <Tabs.Content value="plan">
          <PlanTab exercise={exercise} preview={preview} workshop={workshop} onChange={change} />
        </Tabs.Content>
        <Tabs.Content value="sheet">
          <SheetTab id={draft.id} exercise={exercise} preview={preview} workshop={workshop} onChange={change} />
        </Tabs.Content>
        <Tabs.Content value="variants">
          <VariantsTab id={draft.id} exercise={exercise} workshop={workshop} onChange={change} />
        </Tabs.Content>
        <Tabs.Content value="about">
          <AboutTab exercise={exercise} onChange={change} />
        </Tabs.Content>
        <Tabs.Content value="revisions">
          <RevisionsTab id={draft.id} exercise={exercise} workshop={workshop} />
        </Tabs.Content>
      </Tabs.Root>
    </ValuesProvider>
  );
}
