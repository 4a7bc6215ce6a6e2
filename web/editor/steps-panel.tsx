import { Plus } from 'lucide-react';
import { useState } from 'react';

import { operationOf, setIn, type Operation, type Recipe, type Step } from '#core/recipe';
import { Button, Panel, Alert } from '#web/ui';

import { Fields } from './form/field.tsx';
import { Palette } from './palette.tsx';
import type { Preview } from './preview.ts';
import { StepList } from './step-list.tsx';
import { StepNames } from './step-names.tsx';
import { duplicated, moved, newStep, withoutStep, withStep } from './steps.ts';

interface StepsPanelProps {
  readonly recipe: Recipe;
  readonly preview: Preview;
  readonly surfaces: readonly string[];
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly until: string | null;
  readonly onUntil: (id: string | null) => void;
  /** Operations that may be added; all where nothing is said. */
  readonly allowed: readonly Operation[] | undefined;
  readonly onChange: (change: (recipe: Recipe) => Recipe) => void;
  readonly onStep: (id: string, next: Step) => void;
  readonly onRename: (id: string, name: string) => void;
}

/** The build steps as a list, the form of the chosen one open in it. */
export function StepsPanel(props: StepsPanelProps) {
  const { recipe, preview, surfaces, chosen, onChoose, until, onUntil, allowed, onChange } = props;
  const [adding, setAdding] = useState(false);
  const step = recipe.steps.find(({ id }) => id === chosen) ?? null;
  return (
    <Panel
      title="Build steps"
      aside={
        <Button
          onClick={() => {
            setAdding(true);
          }}
        >
          <Plus size={14} aria-hidden /> Add a step
        </Button>
      }
    >
      {recipe.steps.length === 0 && (
        <p className="px-3 py-4 text-soft">The part is empty. Add a step that gives it its first material.</p>
      )}
      {preview.problem !== null && <Alert>{preview.problem.message}</Alert>}
      <StepList
        steps={recipe.steps}
        chosen={chosen}
        until={until}
        unfinished={preview.unfinished}
        onChoose={onChoose}
        onMove={(id, to) => {
          onChange((before) => moved(before, id, to));
        }}
        onToggle={(id) => {
          onChange((before) => ({
            ...before,
            steps: before.steps.map((other) =>
              other.id === id ? setIn(other, ['off'], other.off === true ? undefined : true) : other,
            ),
          }));
        }}
        onDuplicate={(id) => {
          const made = duplicated(recipe, id);
          if (made === null) return;
          onChange(() => made.recipe);
          onChoose(made.copy.id);
        }}
        onRemove={(id) => {
          onChange((before) => withoutStep(before, id));
          if (until === id) onUntil(null);
        }}
        onUntil={onUntil}
        form={step && <StepForm {...props} step={step} />}
      />
      <Palette
        open={adding}
        operations={allowed}
        onClose={() => {
          setAdding(false);
        }}
        onChoose={(operation) => {
          const made = newStep(operation, recipe, surfaces);
          onChange((before) => withStep(before, made, chosen));
          onChoose(made.id);
          setAdding(false);
        }}
      />
    </Panel>
  );
}

function StepForm({ step, recipe, onStep, onRename }: StepsPanelProps & { step: Step }) {
  return (
    <div className="flex flex-wrap items-start gap-x-3 gap-y-1.5" data-testid="step-form">
      <StepNames
        key={step.id}
        step={step}
        taken={recipe.steps.map(({ id }) => id)}
        onLabel={(label) => {
          onStep(step.id, setIn(step, ['label'], label === '' ? undefined : label));
        }}
        onRename={(id) => {
          onRename(step.id, id);
        }}
      />
      <Fields
        fields={operationOf(step.op).form}
        value={step}
        where="step"
        onChange={(next) => {
          onStep(step.id, next);
        }}
      />
    </div>
  );
}
