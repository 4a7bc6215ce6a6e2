import { arrayMove } from '@dnd-kit/sortable';
import { nanoid } from '@reduxjs/toolkit';
import { Plus, Trash2 } from 'lucide-react';

import type { KeptPlan } from '#api';
import { canRemove, extentsOf, lineOf, nameOf, type BuildPlan, type PlannedStep } from '#core/buildplan';
import { OPERATIONS, operationName, type Operation } from '#core/recipe';
import { Signed } from '#web/sheet';
import { Button, ICON_BUTTON, Panel, SelectField, SortableList, SortableRow, TextField } from '#web/ui';

type Change = (change: (plan: BuildPlan) => BuildPlan, topic?: string | null) => void;

interface PlanStepsProps {
  readonly plan: BuildPlan;
  readonly sizes: KeptPlan['sizes'];
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly onChange: Change;
  readonly onNumbers: (id: string) => void;
}

const blank = (): PlannedStep => ({
  id: nanoid(),
  operation: 'extrude',
  removes: false,
  name: '',
  on: '',
  extent: 'depth',
  sizes: [],
  made: null,
});

/** The planned steps in their order, the chosen one open to be filled in; where the origin goes and what is symmetric above. */
export function PlanSteps({ plan, sizes, chosen, onChoose, onChange, onNumbers }: PlanStepsProps) {
  const { steps } = plan;
  const put = (next: PlannedStep, topic: string | null = null): void => {
    onChange(
      (before) => ({ ...before, steps: before.steps.map((one) => (one.id === next.id ? next : one)) }),
      topic === null ? null : `${next.id} ${topic}`,
    );
  };
  const add = (): void => {
    const step = blank();
    onChange((before) => ({ ...before, steps: [...before.steps, step] }));
    onChoose(step.id);
  };
  return (
    <Panel
      title="Steps"
      aside={
        <Button onClick={add}>
          <Plus size={14} aria-hidden /> Add a step
        </Button>
      }
    >
      <div className="grid gap-x-4 border-b border-rule px-3 py-2 sm:grid-cols-2">
        <TextField
          label="Where the origin goes"
          maxLength={120}
          value={plan.origin}
          onChange={(event) => {
            onChange((before) => ({ ...before, origin: event.target.value }), 'origin');
          }}
        />
        <TextField
          label="What is symmetric"
          maxLength={120}
          value={plan.symmetry}
          onChange={(event) => {
            onChange((before) => ({ ...before, symmetry: event.target.value }), 'symmetry');
          }}
        />
      </div>
      {steps.length === 0 && (
        <p className="px-3 py-4 text-soft">
          Split the part into steps: what gives it its first material, what is added and taken away, and what finishes
          its edges.
        </p>
      )}
      <SortableList
        ids={steps.map(({ id }) => id)}
        testId="planned-steps"
        onMove={(id, to) => {
          onChange((before) => ({
            ...before,
            steps: arrayMove(
              before.steps,
              before.steps.findIndex((one) => one.id === id),
              to,
            ),
          }));
        }}
      >
        {steps.map((step, i) => (
          <SortableRow
            key={step.id}
            id={step.id}
            name={`step ${String(i + 1)}`}
            open={chosen === step.id}
            head={
              <>
                <button
                  type="button"
                  aria-expanded={chosen === step.id}
                  className="min-w-0 flex-1 cursor-pointer py-0.5 text-left"
                  onClick={() => {
                    onChoose(chosen === step.id ? null : step.id);
                  }}
                >
                  <span className="mr-1.5 text-soft">{i + 1}</span>
                  <span className="font-medium">{nameOf(step)}</span>
                  <span className="text-soft">
                    : <Signed text={summaryOf(step, sizes)} />
                  </span>
                </button>
                <button
                  type="button"
                  className={ICON_BUTTON}
                  aria-label={`Remove step ${String(i + 1)}`}
                  title="Remove"
                  onClick={() => {
                    onChange((before) => ({ ...before, steps: before.steps.filter(({ id }) => id !== step.id) }));
                  }}
                >
                  <Trash2 size={14} aria-hidden />
                </button>
              </>
            }
          >
            <StepForm step={step} steps={steps} sizes={sizes} onChange={put} onNumbers={onNumbers} />
          </SortableRow>
        ))}
      </SortableList>
    </Panel>
  );
}

const summaryOf = (step: PlannedStep, sizes: KeptPlan['sizes']): string => {
  const taken = sizes.filter(({ checkId }) => step.sizes.includes(checkId)).map(({ printed }) => printed);
  return [
    step.name.trim() === ''
      ? lineOf(step)
          .replace(operationName(step.operation), '')
          .replace(/^[\s,]+/, '')
      : lineOf({ ...step, name: '' }),
    step.on.trim() === '' ? '' : `on ${step.on.trim()}`,
    taken.length === 0 ? 'no size yet' : taken.join(', '),
    step.made === null ? '' : 'with numbers',
  ]
    .filter(Boolean)
    .join('; ');
};

const EXTENTS: Readonly<Record<PlannedStep['extent'], string>> = {
  depth: 'By a depth',
  through: 'Through all',
  symmetric: 'To both sides alike',
};

interface StepFormProps {
  readonly step: PlannedStep;
  readonly steps: readonly PlannedStep[];
  readonly sizes: KeptPlan['sizes'];
  readonly onChange: (step: PlannedStep, topic?: string | null) => void;
  readonly onNumbers: (id: string) => void;
}

function StepForm({ step, steps, sizes, onChange, onNumbers }: StepFormProps) {
  const { made } = step;
  return (
    <div className="flex flex-col gap-2" data-testid="planned-step">
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField
          label="What it makes"
          maxLength={80}
          value={step.name}
          onChange={(event) => {
            onChange({ ...step, name: event.target.value }, 'name');
          }}
        />
        <TextField
          label="On which plane or face"
          maxLength={120}
          value={step.on}
          onChange={(event) => {
            onChange({ ...step, on: event.target.value }, 'on');
          }}
        />
        <SelectField
          label="Operation"
          disabled={made !== null}
          hint={made === null ? undefined : 'It has numbers; they are changed on the other page of the plan.'}
          value={`${step.operation}${step.removes ? ' removes' : ''}`}
          onChange={(event) => {
            const [operation, removes] = event.target.value.split(' ');
            const chosen = operation as Operation;
            const extent = extentsOf(chosen).includes(step.extent) ? step.extent : 'depth';
            onChange({ ...step, operation: chosen, removes: removes !== undefined, extent });
          }}
        >
          {OPERATIONS.flatMap((operation) =>
            canRemove(operation)
              ? [
                  <option key={operation} value={operation}>
                    {operationName(operation)}, adding
                  </option>,
                  <option key={`${operation} removes`} value={`${operation} removes`}>
                    {operationName(operation)}, removing
                  </option>,
                ]
              : [
                  <option key={operation} value={operation}>
                    {operationName(operation)}
                  </option>,
                ],
          )}
        </SelectField>
        {extentsOf(step.operation).length > 0 && (
          <SelectField
            label="How far"
            disabled={made !== null}
            value={step.extent}
            onChange={(event) => {
              onChange({ ...step, extent: event.target.value as PlannedStep['extent'] });
            }}
          >
            {extentsOf(step.operation).map((extent) => (
              <option key={extent} value={extent}>
                {EXTENTS[extent]}
              </option>
            ))}
          </SelectField>
        )}
      </div>
      <SizesOfStep step={step} steps={steps} sizes={sizes} onChange={onChange} />
      <div>
        <Button
          onClick={() => {
            onNumbers(step.id);
          }}
        >
          {made === null ? 'Give it its numbers' : 'Its numbers'}
        </Button>
      </div>
    </div>
  );
}

/** The dimensions of the sheet, those of this step pressed, those of others with the numbers of their steps. */
function SizesOfStep({ step, steps, sizes, onChange }: Omit<StepFormProps, 'onNumbers'>) {
  if (sizes.length === 0) return null;
  return (
    <fieldset>
      <legend className="text-sm font-medium">Sizes that it takes from the sheet</legend>
      <div className="flex flex-wrap gap-1 pt-1">
        {sizes.map(({ checkId, printed, label }) => {
          const isOwn = step.sizes.includes(checkId);
          const others = steps.flatMap((other, i) =>
            other.id !== step.id && other.sizes.includes(checkId) ? [String(i + 1)] : [],
          );
          return (
            <button
              key={checkId}
              type="button"
              aria-pressed={isOwn}
              title={label}
              className={`cursor-pointer border px-1.5 py-0.5 text-sm ${isOwn ? 'border-accent bg-accent-soft font-medium' : 'border-rule hover:border-ink'}`}
              onClick={() => {
                const next = isOwn ? step.sizes.filter((id) => id !== checkId) : [...step.sizes, checkId];
                onChange({ ...step, sizes: next });
              }}
            >
              <Signed text={printed} />
              <span className="sr-only"> {label}</span>
              {others.length > 0 && <span className="ml-1 text-xs text-soft">in {others.join(', ')}</span>}
            </button>
          );
        })}
      </div>
    </fieldset>
  );
}
