import type { Exercise } from '#core/exercise';
import { Panel } from '#web/ui';

const TYPED = [
  ['mass', 'Mass'],
  ['volume', 'Volume'],
  ['x', 'Center X'],
  ['y', 'Center Y'],
  ['z', 'Center Z'],
] as const;

/** Which numbers a student types beside the model. */
export function TypedValues({
  exercise,
  onChange,
}: {
  exercise: Exercise;
  onChange: (change: (exercise: Exercise) => Exercise) => void;
}) {
  return (
    <Panel title="Numbers that students type">
      <div className="flex flex-wrap gap-x-4 gap-y-1 px-3 py-2">
        {TYPED.map(([name, label]) => (
          <label key={name} className="inline-flex cursor-pointer items-center gap-1.5">
            <input
              type="checkbox"
              checked={exercise.typedValues.includes(name)}
              onChange={(event) => {
                onChange((before) => ({
                  ...before,
                  typedValues: TYPED.map(([other]) => other).filter((other) =>
                    other === name ? event.target.checked : before.typedValues.includes(other),
                  ),
                }));
              }}
            />
            {label}
          </label>
        ))}
      </div>
    </Panel>
  );
}
