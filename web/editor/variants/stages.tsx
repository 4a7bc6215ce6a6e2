import type { Exercise, ExerciseStage } from '#core/exercise';
import type { Recipe, Step } from '#core/recipe';
import { Button, Panel, TextField } from '#web/ui';

interface StagesProps {
  readonly exercise: Exercise;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

/** Later stages of the exercise: changed letters and added steps. */
export function Stages({ exercise, onChange }: StagesProps) {
  const { stages, recipe } = exercise;
  const put = (place: number, changes: Partial<ExerciseStage>, topic: string) => {
    onChange(
      (before) => ({
        ...before,
        stages: before.stages.map((other, j) => (j === place ? { ...other, ...changes } : other)),
      }),
      `stage ${String(place)} ${topic}`,
    );
  };
  return (
    <Panel
      title={stages.length === 0 ? 'One stage' : `${String(stages.length + 1)} stages`}
      aside={
        <Button
          disabled={stages.length >= 4}
          onClick={() => {
            onChange((before) => ({
              ...before,
              stages: [...before.stages, { title: `Stage ${String(before.stages.length + 2)}`, brief: '', values: {} }],
            }));
          }}
        >
          Add a stage
        </Button>
      }
    >
      {stages.length === 0 ? (
        <p className="px-3 py-3 text-soft">
          A later stage asks for the same part again, with changed values or more steps.
        </p>
      ) : (
        <ul>
          {stages.map((stage, i) => (
            <StageRow
              key={i}
              stage={stage}
              recipe={recipe}
              onChange={(changes, topic) => {
                put(i, changes, topic);
              }}
              onRemove={() => {
                onChange((before) => ({ ...before, stages: before.stages.filter((_, j) => j !== i) }));
              }}
            />
          ))}
        </ul>
      )}
    </Panel>
  );
}

interface StageRowProps {
  readonly stage: ExerciseStage;
  readonly recipe: Recipe;
  readonly onChange: (changes: Partial<ExerciseStage>, topic: string) => void;
  readonly onRemove: () => void;
}

function StageRow({ stage, recipe, onChange, onRemove }: StageRowProps) {
  return (
    <li className="flex flex-wrap items-end gap-3 border-b border-rule px-3 py-2">
      <span className="w-40">
        <TextField
          label="Title"
          value={stage.title}
          onChange={(event) => {
            const title = event.target.value;
            if (title !== '') onChange({ title }, 'title');
          }}
        />
      </span>
      {recipe.parameters.map(({ name, value }) => (
        <span key={name} className="w-20">
          <TextField
            label={name}
            placeholder={value}
            value={stage.values[name] ?? ''}
            onChange={(event) => {
              const text = event.target.value.trim();
              const { [name]: _, ...rest } = stage.values;
              const values = text === '' ? rest : { ...rest, [name]: text };
              onChange({ values }, name);
            }}
          />
        </span>
      ))}
      <span className="w-full">
        <TextField
          label="What is asked"
          value={stage.brief}
          maxLength={500}
          onChange={(event) => {
            onChange({ brief: event.target.value }, 'brief');
          }}
        />
      </span>
      <AddedSteps
        stage={stage}
        steps={recipe.steps}
        onChange={(adds) => {
          onChange({ adds: adds.length === 0 ? undefined : adds }, 'adds');
        }}
      />
      <span className="mb-5">
        <Button onClick={onRemove}>Remove</Button>
      </span>
    </li>
  );
}

/** Steps that are switched off in the part can be added by a stage. */
function AddedSteps({
  stage: { adds = [] },
  steps,
  onChange,
}: {
  stage: ExerciseStage;
  steps: readonly Step[];
  onChange: (adds: readonly string[]) => void;
}) {
  const off = steps.filter((step) => step.off === true || adds.includes(step.id));
  if (off.length === 0)
    return <p className="w-full text-xs text-soft">Switch a step off in the part, and a stage can add it.</p>;
  return (
    <fieldset className="flex w-full flex-wrap gap-x-4 text-sm">
      <legend className="font-medium">Adds the steps</legend>
      {off.map(({ id, label }) => (
        <label key={id} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={adds.includes(id)}
            onChange={(event) => {
              onChange(event.target.checked ? [...adds, id] : adds.filter((other) => other !== id));
            }}
          />
          {label ?? id}
        </label>
      ))}
    </fieldset>
  );
}
