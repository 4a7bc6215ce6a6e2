import { useMemo, useState, type ReactNode } from 'react';
import { Link } from 'react-router';

import type { WorkDetail, Worked } from '#api';
import { blankExercise, meansSurface, type Exercise } from '#core/exercise';
import { useWorkedQuery } from '#web/api';
import { usePreview } from '#web/editor';
import { SheetView } from '#web/sheet';
import { Alert, Button, Failed, Loading, PageHead, Panel, usePageKeys } from '#web/ui';
import { ModelView } from '#web/viewer';
import { PageOfWork } from '#web/work';
import { useOwnWorkshop } from '#web/workshop';

/** How is this part made, step by step? */
export const WorkedPage = () => <PageOfWork>{(work) => <OneByOne work={work} />}</PageOfWork>;

function OneByOne({ work }: { readonly work: WorkDetail }) {
  const { data, error, refetch } = useWorkedQuery({ id: work.id, stage: work.stage });
  const exercise = (
    <Link className="underline" to={`/my/${String(work.id)}?stage=${String(work.stage)}`}>
      To the exercise
    </Link>
  );
  if (!work.worked) return <PageHead answer="The steps are shown when the answers are out" detail={exercise} />;
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the steps" />;
  return <Steps work={work} worked={data} back={exercise} />;
}

/** The faces that a step has made, as far as they are still there. */
const facesOf = (namesOfFace: readonly (readonly string[])[], stepId: string): ReadonlySet<number> =>
  new Set(namesOfFace.flatMap((names, face) => (names.some((name) => name.startsWith(`${stepId}.`)) ? [face] : [])));

/** What is picked: dimensions of the sheet, and the surfaces that they hang on. */
interface Lit {
  readonly checkIds: readonly string[];
  readonly surfaces: readonly string[];
  readonly words: string;
}
const NOTHING: Lit = { checkIds: [], surfaces: [], words: '' };
type Dimensions = Worked['dimensions'];

const ofDimension = (checkId: string, dimensions: Dimensions): Lit => {
  const found = dimensions.find((one) => one.checkId === checkId);
  return {
    checkIds: [checkId],
    surfaces: found?.surfaces ?? [],
    words: `${found?.label ?? 'This'}: ${(found?.surfaces.length ?? 0) === 0 ? 'of the part as a whole.' : 'its faces are lit on the part.'}`,
  };
};

const ofSurfaces = (surfaces: readonly string[], dimensions: Dimensions): Lit => {
  const found = dimensions.filter((one) =>
    one.surfaces.some((name) => surfaces.some((surface) => meansSurface(name, surface))),
  );
  return {
    checkIds: found.map(({ checkId }) => checkId),
    surfaces,
    words:
      found.length === 0
        ? 'No dimension hangs on this face by itself.'
        : `Dimensions of this face: ${found.map(({ label }) => label).join(', ')}.`,
  };
};

const facesLit = (namesOfFace: readonly (readonly string[])[], { surfaces }: Lit): ReadonlySet<number> =>
  new Set(
    namesOfFace.flatMap((names, face) =>
      names.some((surface) => surfaces.some((name) => meansSurface(name, surface))) ? [face] : [],
    ),
  );

function Steps({
  work,
  worked: { recipe, steps, dimensions },
  back,
}: {
  readonly work: WorkDetail;
  readonly worked: Worked;
  readonly back: ReactNode;
}) {
  const [place, setPlace] = useState(0);
  const [lit, setLit] = useState<Lit>(NOTHING);
  const workshop = useOwnWorkshop();
  const exercise = useMemo(
    (): Exercise => ({ ...blankExercise(work.exerciseNumber, work.exerciseTitle, work.unit), recipe }),
    [work.exerciseNumber, work.exerciseTitle, work.unit, recipe],
  );
  const step = steps[place];
  const preview = usePreview(workshop, exercise, step?.id ?? null);
  const go = (to: number): void => {
    setLit(NOTHING);
    setPlace(Math.max(0, Math.min(steps.length - 1, to)));
  };
  usePageKeys({
    n: () => {
      go(place + 1);
    },
    b: () => {
      go(place - 1);
    },
  });
  const problem = preview.problem ?? preview.unfinished?.problem ?? null;
  return (
    <>
      <PageHead
        answer={`Step ${String(place + 1)} of ${String(steps.length)}: ${step?.name ?? ''}`}
        detail={
          <>
            {step?.sentence}. {back}
          </>
        }
        actions={
          <>
            <Button
              disabled={place === 0}
              onClick={() => {
                go(place - 1);
              }}
            >
              Back B
            </Button>
            <Button
              kind="main"
              disabled={place === steps.length - 1}
              onClick={() => {
                go(place + 1);
              }}
            >
              Next step N
            </Button>
          </>
        }
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <Panel title="The part so far">
          <div className="h-[26rem]" data-testid="worked-part">
            {preview.part === null ? (
              <Loading what="the part" />
            ) : (
              <ModelView
                model={preview.part.model}
                label={`Part after step ${String(place + 1)}`}
                keepView
                pickedFaces={
                  lit === NOTHING
                    ? facesOf(preview.part.namesOfFace, step?.id ?? '')
                    : facesLit(preview.part.namesOfFace, lit)
                }
                onPick={(faceId) => {
                  const names = faceId === null ? [] : (preview.part?.namesOfFace[faceId] ?? []);
                  setLit(names.length === 0 ? NOTHING : ofSurfaces(names, dimensions));
                }}
              />
            )}
          </div>
          <p className="border-t border-rule px-3 py-1.5 text-sm" role="status" data-testid="lit">
            {lit === NOTHING
              ? 'Pick a face of the part or a dimension of the sheet: what belongs to it lights up.'
              : lit.words}
          </p>
          {problem !== null && <Alert>{problem.message}</Alert>}
        </Panel>
        <div className="h-[28.5rem] min-w-0">
          <SheetView
            url={`work/${String(work.id)}/sheet.svg?stage=${String(work.stage)}`}
            marked={lit === NOTHING ? (step?.checkIds ?? []) : lit.checkIds}
            onPick={(checkId) => {
              setLit(checkId === null ? NOTHING : ofDimension(checkId, dimensions));
            }}
          />
        </div>
      </div>
      <Panel title="All steps">
        <ol className="divide-y divide-rule" data-testid="worked-steps">
          {steps.map(({ id, name, sentence }, i) => (
            <li key={id}>
              <button
                type="button"
                aria-current={i === place ? 'step' : undefined}
                className={`w-full cursor-pointer px-3 py-1.5 text-left hover:bg-accent-soft ${i === place ? 'bg-accent-soft font-semibold' : ''} ${i > place ? 'text-soft' : ''}`}
                onClick={() => {
                  go(i);
                }}
              >
                {i + 1}. {name}: <span className="font-normal">{sentence}</span>
              </button>
            </li>
          ))}
        </ol>
      </Panel>
    </>
  );
}
