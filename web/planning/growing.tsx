import type { Recipe } from '#core/recipe';
import type { Preview } from '#web/editor';
import { Panel } from '#web/ui';
import { ModelView } from '#web/viewer';

interface GrowingPartProps {
  readonly recipe: Recipe;
  readonly preview: Preview;
  /** The last step that is built; null where all are. */
  readonly until: string | null;
  readonly onUntil: (id: string | null) => void;
}

/** The part as the steps with numbers build it, one after the other. */
export function GrowingPart({ recipe: { steps }, preview, until, onUntil }: GrowingPartProps) {
  const { part, unfinished, problem, building } = preview;
  const at = until === null ? steps.length : steps.findIndex(({ id }) => id === until) + 1;
  const words = problem?.message ?? unfinished?.problem.message ?? null;
  if (steps.length === 0)
    return <p className="px-3 py-2 text-soft panel">The part grows here as soon as a step has its numbers.</p>;
  return (
    <Panel
      title={
        at === steps.length
          ? 'The part after all steps with numbers'
          : `The part after ${String(at)} of ${String(steps.length)} steps with numbers`
      }
    >
      <div className="h-[32vh] min-h-60" data-testid="growing" data-building={building}>
        {part === null ? (
          <p className="px-3 py-6 text-center text-soft">
            {building ? 'Building the part ...' : 'Nothing is built yet.'}
          </p>
        ) : (
          <ModelView model={part.model} label="The part as planned" keepView />
        )}
      </div>
      <label className="flex items-center gap-3 border-t border-rule px-3 py-1.5 text-sm">
        As it is after step
        <input
          type="range"
          min={1}
          max={steps.length}
          value={at}
          className="min-w-0 flex-1 accent-accent"
          aria-valuetext={steps[at - 1]?.label ?? ''}
          onChange={(event) => {
            const next = Number(event.target.value);
            onUntil(next >= steps.length ? null : (steps[next - 1]?.id ?? null));
          }}
        />
        <span className="w-40 truncate text-soft">{steps[at - 1]?.label}</span>
      </label>
      {words !== null && (
        <p role="alert" className="border-t border-rule px-3 py-1.5 text-sm text-wrong">
          {words}
        </p>
      )}
    </Panel>
  );
}
