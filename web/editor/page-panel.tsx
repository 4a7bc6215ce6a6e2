import { PAPERS, type Exercise, type Paper, type SheetSettings } from '#core/exercise';
import { scaleText } from '#core/sheet';
import { Button, Panel, SelectField } from '#web/ui';

import { reset, type PutSheet } from './sheet-arrange.ts';

/** Paper, scale, projection, and how letters and inches are written. */
export function PagePanel({
  exercise,
  settings,
  scale,
  onChange,
  onPut,
}: {
  exercise: Exercise;
  settings: SheetSettings;
  scale: number | null;
  onChange: (change: (exercise: Exercise) => Exercise, topic: string) => void;
  onPut: PutSheet;
}) {
  const scales = [10, 5, 2, 1, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01];
  return (
    <Panel
      title="Page"
      aside={
        <Button
          disabled={settings.placed === undefined && settings.moved === undefined}
          onClick={() => onPut((before) => reset(before), 'reset')}
        >
          Arrange anew
        </Button>
      }
    >
      <div className="grid grid-cols-2 gap-x-3 px-3 py-2">
        <SelectField
          label="Paper"
          value={settings.paper}
          onChange={(event) => {
            const paper = event.target.value as Paper;
            onPut((before) => ({ ...before, paper }), 'paper');
          }}
        >
          {PAPERS.map((paper) => (
            <option key={paper}>{paper}</option>
          ))}
        </SelectField>
        <SelectField
          label="Scale"
          value={settings.scale === undefined ? '' : String(settings.scale)}
          onChange={(event) => {
            const chosen = event.target.value === '' ? undefined : Number(event.target.value);
            onPut((before) => ({ ...before, scale: chosen }), 'scale');
          }}
        >
          <option value="">{scale === null ? 'chosen' : `chosen: ${scaleText(scale)}`}</option>
          {scales.map((one) => (
            <option key={one} value={one}>
              {scaleText(one)}
            </option>
          ))}
        </SelectField>
        <SelectField
          label="Projection"
          value={exercise.projection}
          onChange={(event) => {
            const projection = event.target.value as Exercise['projection'];
            onChange((before) => ({ ...before, projection }), 'projection');
          }}
        >
          <option value="third-angle">third angle</option>
          <option value="first-angle">first angle</option>
        </SelectField>
        <SelectField
          label="Letters"
          value={settings.letters ?? 'table'}
          onChange={(event) => {
            const letters = event.target.value as 'table' | 'values';
            onPut((before) => ({ ...before, letters }), 'letters');
          }}
        >
          <option value="table">with a table</option>
          <option value="values">values in their place</option>
        </SelectField>
        {exercise.recipe.unit === 'in' && (
          <SelectField
            label="Inches"
            value={settings.format ?? 'decimal'}
            onChange={(event) => {
              const format = event.target.value as 'decimal' | 'fraction';
              onPut((before) => ({ ...before, format }), 'format');
            }}
          >
            <option value="decimal">decimal</option>
            <option value="fraction">fractions</option>
          </SelectField>
        )}
      </div>
    </Panel>
  );
}
