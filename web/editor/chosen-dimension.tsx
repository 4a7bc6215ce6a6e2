import type { Check } from '#core/check';
import type { SheetSettings } from '#core/exercise';
import type { Sheet } from '#core/sheet';
import { Button } from '#web/ui';

import { draggedOffset, nameOf, reset, withOffset, withView, type PutSheet } from './sheet-arrange.ts';

/** Moves by so much at a press, mm on paper. */
const MOVES = [
  ['Left', [-2, 0]],
  ['Right', [2, 0]],
  ['Up', [0, 2]],
  ['Down', [0, -2]],
] as const;

interface ChosenDimensionProps {
  readonly check: Check;
  /** Where it stands, if it stands on the sheet. */
  readonly placed: Sheet['dimensions'][number] | undefined;
  readonly settings: SheetSettings;
  readonly onPut: PutSheet;
}

/** The chosen dimension: in which view it stands, and where. */
export function ChosenDimension({ check, placed, settings, onPut }: ChosenDimensionProps) {
  return (
    <section className="flex flex-wrap items-center gap-2 px-3 py-2 text-sm panel" data-testid="chosen-dimension">
      <b>{check.label}</b>
      <label className="flex items-center gap-1.5">
        in the view
        <select
          className="h-7 border border-ink/50 bg-paper px-1"
          value={settings.placed?.[check.id]?.view ?? ''}
          onChange={(event) => {
            const view = event.target.value === '' ? undefined : event.target.value;
            onPut((before) => withView(before, check.id, view), `view of ${check.id}`);
          }}
        >
          <option value="">that shows it best</option>
          {settings.views
            .filter(({ kind }) => kind !== 'isometric')
            .map((view) => (
              <option key={view.id} value={view.id}>
                {nameOf(view)}
              </option>
            ))}
        </select>
      </label>
      {placed && (
        <span className="flex gap-1">
          {MOVES.map(([word, by]) => (
            <Button
              key={word}
              onClick={() => {
                onPut((before) => withOffset(before, check.id, draggedOffset(placed, by)), `place ${check.id}`);
              }}
            >
              {word}
            </Button>
          ))}
        </span>
      )}
      <Button onClick={() => onPut((before) => reset(before, check.id), `reset ${check.id}`)}>
        Let it find its place
      </Button>
    </section>
  );
}
