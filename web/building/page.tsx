import { useCallback, useState } from 'react';
import { Link, useNavigate } from 'react-router';

import type { Aids, WorkDetail } from '#api';
import type { Exercise } from '#core/exercise';
import { wantedFileName } from '#core/filename';
import { succeed, type Result } from '#core/problem';
import { OPERATIONS, type Operation, type Recipe } from '#core/recipe';
import { pausedAt } from '#core/timelog';
import { useBuildQuery, useKeepBuildMutation, useLazyBuildQuery } from '#web/api';
import {
  Leaving,
  PartTab,
  Saving,
  UndoAndRedo,
  useDocument,
  useHistoryKeys,
  usePreview,
  useValuesOf,
  ValuesProvider,
  type Stored,
} from '#web/editor';
import { useSessionQuery } from '#web/server';
import { useTimeLog } from '#web/time';
import { SheetView } from '#web/sheet';
import { HandInPanel, type HandedIn } from '#web/student';
import { Failed, Loading, PageHead } from '#web/ui';
import { PageOfWork } from '#web/work';
import { useOwnWorkshop, type WorkshopClient } from '#web/workshop';

import { beginning, useExerciseOf, type Begins } from './beginning.ts';

/** How do I make this part, without another program? */
export const BuildingPage = () => (
  <PageOfWork>
    {(work) => (work.aids.building === 'none' ? <NotHere work={work} /> : <KeptBuild work={work} />)}
  </PageOfWork>
);

const NotHere = ({ work }: { readonly work: WorkDetail }) => (
  <PageHead
    answer="This part is built in a program of your own"
    detail={
      <Link className="underline" to={`/my/${String(work.id)}`}>
        To the exercise
      </Link>
    }
  />
);

/** The part as it was left, or a new one that has the letters of the sheet. */
function KeptBuild({ work }: { readonly work: WorkDetail }) {
  const place = { id: work.id, stage: work.stage };
  const { data, error, refetch } = useBuildQuery(place, { refetchOnMountOrArgChange: true });
  // A further stage is the same part again, and goes on from what was built for the one before.
  const isFurther = work.stage > 1;
  const before = useBuildQuery({ id: work.id, stage: work.stage - 1 }, { skip: !isFurther });
  const [latest] = useLazyBuildQuery();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data || (isFurther && before.isLoading)) return <Loading what="your part" />;
  const earlier = before.data?.document ?? null;
  const storedOf = ({ version, updatedAt, document }: typeof data): Stored<Recipe> => ({
    version,
    updatedAt: updatedAt ?? new Date().toISOString(),
    document: document ?? beginning(work, earlier),
  });
  return (
    <Building
      work={work}
      opened={storedOf(data)}
      begins={data.document !== null ? 'as-left' : earlier === null ? 'new' : 'with-stage-before'}
      latest={async () => {
        const answer = await latest(place);
        return answer.data === undefined ? null : storedOf(answer.data);
      }}
    />
  );
}

/** The operations that a course leaves open. */
const operationsOf = (building: Aids['building']): readonly Operation[] =>
  typeof building === 'string' ? OPERATIONS : OPERATIONS.filter((operation) => building.includes(operation));

interface BuildingProps {
  readonly work: WorkDetail;
  readonly opened: Stored<Recipe>;
  readonly begins: Begins;
  readonly latest: () => Promise<Stored<Recipe> | null>;
}

function Building({ work, opened, begins, latest }: BuildingProps) {
  const user = useSessionQuery().data?.user;
  const navigate = useNavigate();
  const workshop = useOwnWorkshop();
  const [first] = useState(opened);
  const [keep] = useKeepBuildMutation();
  const edited = useDocument(first, (version, document) => keep({ id: work.id, stage: work.stage, version, document }));
  const { document: recipe, change, undo, redo } = edited;
  const exercise = useExerciseOf(work, recipe);
  const [until, setUntil] = useState<string | null>(null);
  const preview = usePreview(workshop, exercise, until);
  const values = useValuesOf(exercise);
  useHistoryKeys(undo, redo);
  const onChange = useCallback(
    (next: (exercise: Exercise) => Exercise, topic: string | null = null) => {
      change((before) => next({ ...exercise, recipe: before }).recipe, topic);
    },
    [change, exercise],
  );
  const sheet = `work/${String(work.id)}/sheet`;
  const stage = `?stage=${String(work.stage)}`;
  const time = useTimeLog(work);
  const handedInNow = async (attemptId: number): Promise<void> => {
    await time.change((log) => pausedAt(log, new Date().toISOString()));
    await navigate(`/my/${String(work.id)}${stage}&attempt=${String(attemptId)}`);
  };
  return (
    <ValuesProvider value={values}>
      <PageHead
        answer={`Build your ${work.exerciseTitle.toLowerCase()}`}
        detail={
          <>
            {begins === 'new' && recipe.steps.length === 0 ? 'Every step is kept as you go. ' : ''}
            {begins === 'with-stage-before' ? 'Begun with what you built for the stage before. ' : ''}
            <Saving edited={edited} what="part" latest={latest} />{' '}
            <Link className="underline" to={`/my/${String(work.id)}${stage}`}>
              To the exercise
            </Link>
          </>
        }
        actions={<UndoAndRedo undo={undo} redo={redo} />}
      />
      <Leaving edited={edited} what="part" />
      <PartTab
        id={work.id}
        exercise={exercise}
        preview={preview}
        workshop={workshop}
        until={until}
        onUntil={setUntil}
        allowed={operationsOf(work.aids.building)}
        onChange={onChange}
        beside={
          <div className="h-[42vh] min-h-72">
            <SheetView url={`${sheet}.svg${stage}`} pdf={`${sheet}.pdf${stage}`} />
          </div>
        }
      />
      {user && work.open && recipe.steps.length > 0 && (
        <div className="mt-4 max-w-xl">
          <HandInPanel
            work={work}
            user={user}
            built={() => handedIn(workshop, recipe, fileNameOf(work, user.name))}
            onHandedIn={(attemptId) => void handedInNow(attemptId)}
          />
        </div>
      )}
      {!work.open && <p className="mt-4">{work.closedBecause}</p>}
    </ValuesProvider>
  );
}

/** As the course wants it to be called. */
const fileNameOf = ({ fileNameRule, exerciseNumber, exerciseTitle }: WorkDetail, name: string): string =>
  fileNameRule === null
    ? `${exerciseNumber} ${exerciseTitle}`
    : wantedFileName(fileNameRule, { number: exerciseNumber, name });

/** The solid as a file, with the recipe as the list of its build steps. */
async function handedIn(workshop: WorkshopClient, recipe: Recipe, name: string): Promise<Result<HandedIn>> {
  const made = await workshop.ask<'export'>({ kind: 'export', recipe });
  if (!made.ok) return made;
  const file = new File([new Uint8Array(made.value)], `${name}.step`, { type: 'model/step' });
  return succeed({ file, buildLog: JSON.stringify(recipe) });
}
