import { nanoid } from '@reduxjs/toolkit';
import { Tabs } from 'radix-ui';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';

import type { KeptPlan, WorkDetail } from '#api';
import {
  EMPTY_PLAN,
  madeSteps,
  remarksOn,
  withMade,
  withNumbers,
  type BuildPlan,
  type PlanBuilt,
} from '#core/buildplan';
import { OPERATIONS, type Recipe } from '#core/recipe';
import { useKeepPlanMutation, useLazyPlanQuery, usePlanQuery } from '#web/api';
import { beginning, useExerciseOf } from '#web/building';
import {
  Leaving,
  newStep,
  PartTab,
  Saving,
  UndoAndRedo,
  useDocument,
  useHistoryKeys,
  usePreview,
  useValuesOf,
  ValuesProvider,
  type Preview,
  type Stored,
} from '#web/editor';
import { SheetView } from '#web/sheet';
import { Failed, Loading, PageHead, plural, Tab } from '#web/ui';
import { PageOfWork } from '#web/work';
import { useOwnWorkshop } from '#web/workshop';

import { GrowingPart } from './growing.tsx';
import { PlanRemarks } from './remarks.tsx';
import { PlanSteps } from './steps.tsx';

/** How do I mean to build this part? */
export const PlanningPage = () => (
  <PageOfWork>
    {(work) =>
      work.aids.plan === 'none' ? (
        <PageHead answer="Your course does without a plan" detail={<ToExercise work={work} />} />
      ) : (
        <KeptPlanOf work={work} />
      )
    }
  </PageOfWork>
);

const ToExercise = ({ work }: { readonly work: WorkDetail }) => (
  <Link className="underline" to={`/my/${String(work.id)}?stage=${String(work.stage)}`}>
    To the exercise
  </Link>
);

const storedOf = ({ version, updatedAt, document }: KeptPlan): Stored<BuildPlan> => ({
  version,
  updatedAt: updatedAt ?? new Date().toISOString(),
  document: document ?? EMPTY_PLAN,
});

function KeptPlanOf({ work }: { readonly work: WorkDetail }) {
  const place = { id: work.id, stage: work.stage };
  const { data, error, refetch } = usePlanQuery(place, { refetchOnMountOrArgChange: true });
  const [latest] = useLazyPlanQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="your plan" />;
  return (
    <Planning
      work={work}
      kept={data}
      latest={async () => {
        const answer = await latest(place);
        return answer.data === undefined ? null : storedOf(answer.data);
      }}
    />
  );
}

interface PlanningProps {
  readonly work: WorkDetail;
  readonly kept: KeptPlan;
  readonly latest: () => Promise<Stored<BuildPlan> | null>;
}

/** What the finished part shows of its steps; null while not all of them are built. */
const builtOf = ({ part, unfinished, problem, building }: Preview, until: string | null): PlanBuilt | null =>
  part === null || unfinished !== null || problem !== null || building || until !== null
    ? null
    : { visible: new Set(part.namesOfFace.flat().flatMap((name) => name.split('.'))) };

function Planning({ work, kept, latest }: PlanningProps) {
  const workshop = useOwnWorkshop();
  const [first] = useState(() => storedOf(kept));
  const [keep] = useKeepPlanMutation();
  const edited = useDocument(first, (version, document) => keep({ id: work.id, stage: work.stage, version, document }));
  const { document: plan, change, undo, redo } = edited;
  useHistoryKeys(undo, redo);
  const [tab, setTab] = useState('plan');
  const [chosen, setChosen] = useState<string | null>(null);
  const [until, setUntil] = useState<string | null>(null);
  const recipe = useMemo((): Recipe => ({ ...beginning(work, null), steps: madeSteps(plan) }), [work, plan]);
  const exercise = useExerciseOf(work, recipe);
  const preview = usePreview(workshop, exercise, until);
  const values = useValuesOf(exercise);
  const remarks = useMemo(
    () => remarksOn(plan, kept.sizes, builtOf(preview, until)),
    [plan, kept.sizes, preview, until],
  );
  const step = plan.steps.find(({ id }) => id === chosen) ?? null;
  const sheet = `work/${String(work.id)}/sheet`;
  const stage = `?stage=${String(work.stage)}`;
  /** Gives a planned step numbers that usually build, to be changed at once. */
  const giveNumbers = (id: string): void => {
    change((before) => ({
      ...before,
      steps: before.steps.map((one) => {
        if (one.id !== id || one.made !== null) return one;
        const made = newStep(one.operation, recipe, [...new Set(preview.part?.namesOfFace.flat())].sort());
        return withNumbers(one, made);
      }),
    }));
    setTab('numbers');
  };
  return (
    <ValuesProvider value={values}>
      <PageHead
        answer={`Plan how to build your ${work.exerciseTitle.toLowerCase()}`}
        detail={
          <>
            {plural(plan.steps.length, 'step')}, {recipe.steps.length} with numbers. It is kept as you go, and can be
            the list of build steps that you hand in. <Saving edited={edited} what="plan" latest={latest} />{' '}
            <ToExercise work={work} />
          </>
        }
        actions={<UndoAndRedo undo={undo} redo={redo} />}
      />
      <Leaving edited={edited} what="plan" />
      <Tabs.Root value={tab} onValueChange={setTab}>
        <Tabs.List className="mb-3 border-b border-rule" aria-label="Plan of building">
          <Tab value="plan">Steps and order</Tab>
          <Tab value="numbers">With numbers</Tab>
        </Tabs.List>
        <Tabs.Content value="plan">
          <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
            <div className="flex flex-col gap-4">
              <PlanSteps
                plan={plan}
                sizes={kept.sizes}
                chosen={chosen}
                onChoose={setChosen}
                onChange={change}
                onNumbers={giveNumbers}
              />
              <PlanRemarks remarks={remarks} onChoose={setChosen} />
            </div>
            <div className="flex flex-col gap-4 lg:sticky lg:top-4">
              <div className="h-[42vh] min-h-72">
                <SheetView url={`${sheet}.svg${stage}`} pdf={`${sheet}.pdf${stage}`} marked={step?.sizes ?? []} />
              </div>
              <GrowingPart recipe={recipe} preview={preview} until={until} onUntil={setUntil} />
            </div>
          </div>
        </Tabs.Content>
        <Tabs.Content value="numbers">
          <PartTab
            // Another step that was given numbers opens with them.
            key={step?.made?.id ?? ''}
            id={work.id}
            exercise={exercise}
            preview={preview}
            workshop={workshop}
            until={until}
            onUntil={setUntil}
            fixedLetters
            begin={step?.made?.id ?? null}
            allowed={OPERATIONS}
            onChange={(next, topic = null) => {
              change((before) => {
                const { recipe: after } = next({ ...exercise, recipe: { ...recipe, steps: madeSteps(before) } });
                return withMade(before, after.steps, nanoid);
              }, topic);
            }}
            beside={
              <div className="h-[42vh] min-h-72">
                <SheetView url={`${sheet}.svg${stage}`} pdf={`${sheet}.pdf${stage}`} marked={step?.sizes ?? []} />
              </div>
            }
          />
        </Tabs.Content>
      </Tabs.Root>
    </ValuesProvider>
  );
}
