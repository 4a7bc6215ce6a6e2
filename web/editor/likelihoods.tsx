import type { Exercise } from '#core/exercise';
import { causeName, MISTAKE_KINDS } from '#core/cause';
import { Panel } from '#web/ui';

const CHOICES = [
  [0, 'never'],
  [0.3, 'rarely'],
  [1, 'as usual'],
  [3, 'often'],
] as const;

/** How often the students of this exercise make each kind of mistake: causes are ranked by it, and coverage is weighed. */
export function Likelihoods({
  exercise: { likelihoods = {} },
  onChange,
}: {
  readonly exercise: Pick<Exercise, 'likelihoods'>;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}) {
  const changed = Object.keys(likelihoods).length;
  const put = (kind: string, likelihood: number): void => {
    onChange((before) => {
      const { likelihoods: all = {}, ...rest } = before;
      const others = Object.fromEntries(Object.entries(all).filter(([name]) => name !== kind));
      const next = likelihood === 1 ? others : { ...others, [kind]: likelihood };
      return Object.keys(next).length === 0 ? rest : { ...rest, likelihoods: next };
    }, `likelihood ${kind}`);
  };
  return (
    <Panel
      title={
        changed === 0 ? 'Mistakes: as often as usual' : `Mistakes: ${String(changed)} more or less often than usual`
      }
    >
      <details>
        <summary className="cursor-pointer px-3 py-2 text-sm">How often do your students make them?</summary>
        <ul className="grid grid-cols-2 gap-x-4 px-3 pb-3 text-sm">
          {MISTAKE_KINDS.map((kind) => (
            <li key={kind} className="flex items-center justify-between gap-2 border-t border-rule py-1">
              <label htmlFor={`likelihood-${kind}`}>{causeName(kind)}</label>
              <select
                id={`likelihood-${kind}`}
                className="h-7 border border-ink/50 bg-paper px-1"
                value={String(likelihoods[kind] ?? 1)}
                onChange={(event) => {
                  put(kind, Number(event.target.value));
                }}
              >
                {CHOICES.map(([value, words]) => (
                  <option key={value} value={value}>
                    {words}
                  </option>
                ))}
              </select>
            </li>
          ))}
        </ul>
      </details>
    </Panel>
  );
}
