import { Copy, Eye, EyeOff, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';

import { describeStep, type Step, type Unfinished } from '#core/recipe';
import { ICON_BUTTON, SortableList, SortableRow } from '#web/ui';

interface StepListProps {
  readonly steps: readonly Step[];
  readonly chosen: string | null;
  /** Steps after this one are not built; null when all are. */
  readonly until: string | null;
  readonly unfinished: Unfinished | null;
  readonly onChoose: (id: string | null) => void;
  readonly onMove: (id: string, to: number) => void;
  readonly onToggle: (id: string) => void;
  readonly onDuplicate: (id: string) => void;
  readonly onRemove: (id: string) => void;
  readonly onUntil: (id: string | null) => void;
  /** The form of the chosen step. */
  readonly form: ReactNode;
}

/** The build steps as numbered sentences; the chosen one opens to its form. */
export function StepList({ steps, form, onMove, ...rest }: StepListProps) {
  const last = rest.until === null ? steps.length : steps.findIndex(({ id }) => id === rest.until);
  return (
    <SortableList ids={steps.map(({ id }) => id)} testId="steps" onMove={onMove}>
      {steps.map((step, i) => (
        <StepRow key={step.id} step={step} number={i + 1} built={i <= last} form={form} {...rest} />
      ))}
    </SortableList>
  );
}

function StepRow({
  step,
  number,
  built,
  chosen,
  until,
  unfinished,
  onChoose,
  onToggle,
  onDuplicate,
  onRemove,
  onUntil,
  form,
}: Omit<StepListProps, 'steps' | 'onMove'> & { step: Step; number: number; built: boolean }) {
  const open = chosen === step.id;
  const failing = unfinished?.stepId === step.id;
  const off = step.off === true;
  return (
    <SortableRow
      id={step.id}
      name={`step ${String(number)}`}
      open={open}
      faint={!built}
      head={
        <>
          <button
            type="button"
            aria-expanded={open}
            className="min-w-0 flex-1 cursor-pointer py-0.5 text-left"
            onClick={() => {
              onChoose(open ? null : step.id);
            }}
          >
            <span className={off ? 'line-through' : ''}>
              <span className="mr-1.5 text-soft">{number}</span>
              <span className="font-medium">{step.label ?? step.id}</span>
              <span className="text-soft">: {describeStep(step)}</span>
            </span>
            {off && <span className="ml-1 text-xs text-soft">(switched off)</span>}
            {failing && (
              <span className="mt-0.5 block border-l-4 border-wrong pl-2 text-sm text-wrong" role="alert">
                {unfinished.problem.message}
              </span>
            )}
          </button>
          <span className="flex shrink-0">
            <button
              type="button"
              className={ICON_BUTTON}
              aria-label={off ? `Switch step ${String(number)} on` : `Switch step ${String(number)} off`}
              title={off ? 'Switch on' : 'Switch off'}
              onClick={() => {
                onToggle(step.id);
              }}
            >
              {off ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
            </button>
            <button
              type="button"
              className={ICON_BUTTON}
              aria-label={`Duplicate step ${String(number)}`}
              title="Duplicate"
              onClick={() => {
                onDuplicate(step.id);
              }}
            >
              <Copy size={14} aria-hidden />
            </button>
            <button
              type="button"
              className={ICON_BUTTON}
              aria-label={`Remove step ${String(number)}`}
              title="Remove"
              onClick={() => {
                onRemove(step.id);
              }}
            >
              <Trash2 size={14} aria-hidden />
            </button>
          </span>
        </>
      }
    >
      {form}
      <label className="mt-2 inline-flex cursor-pointer items-center gap-1.5 text-xs text-soft">
        <input
          type="checkbox"
          checked={until === step.id}
          onChange={(event) => {
            onUntil(event.target.checked ? step.id : null);
          }}
        />
        Show the part as it is after this step
      </label>
    </SortableRow>
  );
}
