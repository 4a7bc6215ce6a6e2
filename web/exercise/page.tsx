import { Tabs } from 'radix-ui';
import { useMemo, useState } from 'react';
import { useParams } from 'react-router';

import type { ExerciseDetail } from '#api';
import { facesOfTarget } from '#core/check';
import { formatFixed } from '#core/quantity';
import { describeStep } from '#core/recipe';
import { useExerciseQuery } from '#web/api';
import { SheetView } from '#web/sheet';
import { Button, ButtonLink, dateTime, Empty, Failed, Loading, PageHead, Panel, plural, Tab } from '#web/ui';
import { PartView } from '#web/viewer';

import { CheckPlan } from './checks.tsx';
import { CoverageTab } from './coverage.tsx';
import { IssueDialog } from './issue.tsx';
import { Uses } from './uses.tsx';

/** What does this exercise ask, and how is it checked? */
export function ExercisePage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = useExerciseQuery(id);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the exercise" />;
  return <Exercise exercise={data} />;
}

function Exercise({ exercise }: { exercise: ExerciseDetail }) {
  const { document } = exercise;
  const [chosen, setChosen] = useState<string | null>(null);
  const [issuing, setIssuing] = useState(false);
  const picked = useMemo(() => {
    const target = exercise.targets.find((candidate) => candidate.checkId === chosen);
    return new Set(target ? facesOfTarget(target) : []);
  }, [chosen, exercise.targets]);
  const base = `exercises/${String(exercise.id)}`;
  return (
    <>
      <PageHead
        answer={document.title}
        detail={document.brief}
        actions={
          <>
            <Button
              kind="main"
              onClick={() => {
                setIssuing(true);
              }}
            >
              Issue to a section
            </Button>
            <ButtonLink to={`/exercises/${String(exercise.id)}/edit`}>Edit</ButtonLink>
            <a href={`/api/${base}/reference`} className="inline-flex h-8 items-center px-3 text-sm underline" download>
              Reference part as a file
            </a>
          </>
        }
        facts={[
          { label: 'Number', value: document.number },
          { label: 'Revision', value: `${String(exercise.revision)}, ${dateTime(exercise.createdAt)}` },
          { label: 'Unit', value: document.recipe.unit },
          {
            label: 'Material',
            value: `${exercise.materialName}, ${formatFixed(exercise.densityGPerCm3, 2)} g/cm³`,
            span: 4,
          },
          { label: 'Level', value: document.level },
          ...(document.origin === '' ? [] : [{ label: 'Origin', value: document.origin, span: 6 } as const]),
        ]}
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
        <Tabs.Root defaultValue="part" className="panel lg:sticky lg:top-4">
          <Tabs.List aria-label="Part and sheet" className="flex border-b border-rule">
            <Tab value="part">Part</Tab>
            <Tab value="sheet">Sheet</Tab>
            <Tab value="steps">Build steps</Tab>
            <Tab value="mistakes">Mistakes</Tab>
          </Tabs.List>
          <Tabs.Content value="part" className="h-[62vh] min-h-96">
            <PartView url={`${base}/model`} label={`Reference part: ${document.title}`} pickedFaces={picked} />
          </Tabs.Content>
          <Tabs.Content value="sheet" className="h-[62vh] min-h-96">
            <SheetView url={`${base}/sheet.svg`} marked={chosen ?? ''} pdf={`${base}/sheet.pdf`} onPick={setChosen} />
          </Tabs.Content>
          <Tabs.Content value="steps" className="min-h-96 overflow-auto">
            <Steps exercise={exercise} />
          </Tabs.Content>
          <Tabs.Content value="mistakes" className="min-h-96">
            <CoverageTab exercise={exercise} chosen={chosen} onChoose={setChosen} />
          </Tabs.Content>
        </Tabs.Root>
        <div className="flex flex-col gap-4">
          {document.recipe.parameters.length > 0 && (
            <Panel title="Letters">
              <Parameters exercise={exercise} />
            </Panel>
          )}
          <Panel title={`Check plan, ${plural(exercise.targets.length, 'check')}`}>
            <CheckPlan exercise={exercise} chosen={chosen} onChoose={setChosen} />
          </Panel>
          <Uses exerciseId={exercise.id} />
        </div>
      </div>
      <IssueDialog
        warnings={exercise.sheetWarnings}
        exerciseId={exercise.id}
        title={`${document.number} ${document.title}`}
        open={issuing}
        onClose={() => {
          setIssuing(false);
        }}
      />
    </>
  );
}

function Parameters({ exercise: { document, values } }: { exercise: ExerciseDetail }) {
  return (
    <ul className="grid grid-cols-3">
      {document.recipe.parameters.map(({ name, value, label }) => (
        <li key={name} className="border-r border-rule px-3 py-2 last:border-r-0">
          <span className="block truncate caption">{label}</span>
          <span className="text-base font-semibold">{name}</span>{' '}
          <span>
            {formatFixed(values[name] ?? Number(value), document.decimals)} {document.recipe.unit}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Steps({ exercise: { document } }: { exercise: ExerciseDetail }) {
  if (document.recipe.steps.length === 0)
    return <Empty>The part was read from {document.model?.fileName ?? 'a file'}, which has no build steps.</Empty>;
  return (
    <ol>
      {document.recipe.steps.map((step, i) => (
        <li
          key={step.id}
          className="grid grid-cols-[2.5rem_10rem_1fr] items-baseline gap-2 border-b border-rule px-3 py-2"
        >
          <span className="text-soft">{i + 1}</span>
          <span className="font-medium">{step.label ?? step.id}</span>
          <span className={step.off === true ? 'text-soft line-through' : ''}>{describeStep(step)}</span>
        </li>
      ))}
    </ol>
  );
}
