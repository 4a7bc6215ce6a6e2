import { CHECK_GROUPS, groupOf, isDimension, kindOf, type Check, type CheckGroup } from '#core/check';
import type { Exercise } from '#core/exercise';

const SMALL = 'h-7 border border-ink/50 bg-paper px-1 text-sm';
const GROUP_WORDS: Readonly<Record<CheckGroup, string>> = {
  dimensions: 'dimensions',
  features: 'features',
  properties: 'mass properties',
  'model-quality': 'file',
};

/** What is seldom changed of a check: its group, the stage it begins with, and how it is written on the sheet. */
export function CheckDetails({
  check,
  exercise: { stages },
  onChange,
}: {
  check: Check;
  exercise: Exercise;
  onChange: (changes: object, topic: string) => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
      <label className="flex items-center gap-1.5">
        In the group
        <select
          className={SMALL}
          value={groupOf(check)}
          onChange={(event) => {
            const group = event.target.value as CheckGroup;
            onChange({ group: group === kindOf(check.kind).group ? undefined : group }, 'group');
          }}
        >
          {CHECK_GROUPS.map((group) => (
            <option key={group} value={group}>
              {GROUP_WORDS[group]}
            </option>
          ))}
        </select>
      </label>
      {stages.length > 0 && (
        <label className="flex items-center gap-1.5">
          From
          <select
            className={SMALL}
            value={check.fromStage ?? 1}
            onChange={(event) => {
              const stage = Number(event.target.value);
              onChange({ fromStage: stage === 1 ? undefined : stage }, 'stage');
            }}
          >
            {['the first stage', ...stages.map(({ title }) => title)].map((title, i) => (
              <option key={i} value={i + 1}>
                {title}
              </option>
            ))}
          </select>
          on
        </label>
      )}
      {isDimension(check) && (
        <>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={check.onSheet !== false}
              onChange={(event) => {
                onChange({ onSheet: event.target.checked ? undefined : false }, 'sheet');
              }}
            />
            On the sheet
          </label>
          <label className="flex items-center gap-1.5">
            in the view
            <select
              className={SMALL}
              value={check.view ?? ''}
              onChange={(event) => {
                onChange({ view: event.target.value === '' ? undefined : event.target.value }, 'view');
              }}
            >
              <option value="">that shows it best</option>
              <option value="front">front</option>
              <option value="top">top</option>
              <option value="right">right</option>
            </select>
          </label>
          <label className="flex items-center gap-1.5">
            Before the value
            <input
              className={`${SMALL} w-16`}
              value={check.prefix ?? ''}
              maxLength={20}
              onChange={(event) => {
                onChange({ prefix: event.target.value === '' ? undefined : event.target.value }, 'prefix');
              }}
            />
          </label>
        </>
      )}
    </div>
  );
}
