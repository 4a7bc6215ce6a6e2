import { Redo2, Undo2 } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';

import type { DraftDetail } from '#api';
import { evaluateParameters } from '#core/quantity';
import { useDraftQuery } from '#web/api';
import { Button, dateTime, Dialog, Failed, Loading, PageHead, Tab } from '#web/ui';
import { openWorkshop, type WorkshopClient } from '#web/workshop';

import { AboutTab } from './about-tab.tsx';
import { useDraft, type Draft } from './draft.ts';
import { ValuesProvider, type Values } from './form/context.ts';
import { MakeRevision } from './make-revision.tsx';
import { PartTab } from './part-tab.tsx';
import { PlanTab } from './plan-tab.tsx';
import { usePreview } from './preview.ts';
import { SheetTab } from './sheet-tab.tsx';
import { RevisionsTab } from './revisions-tab.tsx';
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
  const edited = useDraft(opened);
  const { exercise, change, undo, redo } = edited;
  const [until, setUntil] = useState<string | null>(null);
  const preview = usePreview(workshop, exercise, until);
  const { decimals } = exercise;
  const { parameters, unit } = exercise.recipe;
  const values = useMemo((): Values => {
    const scope = evaluateParameters(parameters, unit);
    return { unit, decimals, scope: scope.ok ? scope.value : null };
  }, [parameters, unit, decimals]);
  useHistoryKeys(undo, redo);
  return (
    <ValuesProvider value={values}>
      <PageHead
        answer={exercise.title}
        detail={<Saving edited={edited} latest={latest} />}
        actions={
          <>
            <Button disabled={undo === null} onClick={() => undo?.()} title="Ctrl Z">
              <Undo2 size={14} aria-hidden /> Undo
            </Button>
            <Button disabled={redo === null} onClick={() => redo?.()} title="Ctrl Y">
              <Redo2 size={14} aria-hidden /> Redo
            </Button>
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
      <Leaving edited={edited} />
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

/** Going elsewhere waits for the saving; where that does not succeed, it is asked. */
function Leaving({ edited: { leaving, state } }: { edited: Draft }) {
  return (
    <Dialog
      open={leaving.state === 'blocked' && (state.kind === 'failed' || state.kind === 'conflict')}
      onClose={() => leaving.reset?.()}
      title="Your last changes are not saved"
      description={
        state.kind === 'conflict'
          ? `${state.by} saved this exercise in another window. Stay, and choose which version is kept.`
          : state.kind === 'failed'
            ? `${state.message} Stay, and it is tried again.`
            : ''
      }
    >
      <div className="flex justify-end gap-2">
        <Button kind="main" onClick={() => leaving.reset?.()}>
          Stay
        </Button>
        <Button onClick={() => leaving.proceed?.()}>Leave without them</Button>
      </div>
    </Dialog>
  );
}

/** Control Z and Control Y, also within fields: a field has no history of its own. */
function useHistoryKeys(undo: (() => void) | null, redo: (() => void) | null): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      const work = key === 'z' && !event.shiftKey ? undo : key === 'y' || (key === 'z' && event.shiftKey) ? redo : null;
      if (work === null) return;
      event.preventDefault();
      work();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [undo, redo]);
}

/** Whether everything typed is stored, and what to do when it is not. */
function Saving({
  edited: { state, keepMine, takeTheirs },
  latest,
}: {
  edited: Draft;
  latest: () => Promise<DraftDetail | null>;
}) {
  switch (state.kind) {
    case 'saved':
      return <span data-testid="saving">Saved {dateTime(state.at)}</span>;
    case 'saving':
      return <span data-testid="saving">Saving ...</span>;
    case 'failed':
      return (
        <span data-testid="saving" role="alert" className="text-wrong">
          Not saved: {state.message} It is tried again.
        </span>
      );
    case 'conflict':
      return (
        <span
          role="alert"
          data-testid="conflict"
          className="block border-l-4 border-wrong bg-wrong-soft px-3 py-2 text-ink"
        >
          {state.by} saved this exercise in another window, {dateTime(state.at)}. Nothing of yours is lost.{' '}
          <button
            type="button"
            className="cursor-pointer underline"
            onClick={() => {
              void latest().then((theirs) => {
                if (theirs) takeTheirs(theirs);
              });
            }}
          >
            Take that version
          </button>{' '}
          (undo brings yours back) or{' '}
          <button type="button" className="cursor-pointer underline" onClick={keepMine}>
            keep yours
          </button>
          .
        </span>
      );
  }
}
