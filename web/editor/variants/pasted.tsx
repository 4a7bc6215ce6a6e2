import { useState } from 'react';
import { toast } from 'sonner';

import type { Exercise, Variant } from '#core/exercise';
import { parseVariantTable, variantTable } from '#core/variant';
import { Button, Panel } from '#web/ui';

/** Variants as a table that a spreadsheet reads and writes. */
export function Pasted({ exercise, onPut }: { exercise: Exercise; onPut: (variants: readonly Variant[]) => void }) {
  const [text, setText] = useState('');
  const { parameters } = exercise.recipe;
  return (
    <Panel title="Paste from a spreadsheet">
      <div className="flex flex-col gap-2 px-3 py-2">
        <textarea
          aria-label="Table of variants"
          className="h-32 w-full border border-ink/50 bg-paper p-2 font-mono text-xs"
          placeholder={variantTable(parameters, [{ name: '1', values: {} }])}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
        />
        <span className="flex gap-2">
          <Button
            disabled={text.trim() === ''}
            onClick={() => {
              const parsed = parseVariantTable(text, parameters);
              if (parsed.ok) {
                onPut(parsed.value);
                setText('');
              } else toast.error(parsed.problem.message);
            }}
          >
            Use these values
          </Button>
          {exercise.variants.length > 0 && (
            <Button
              onClick={() => {
                setText(variantTable(parameters, exercise.variants));
              }}
            >
              Show the present ones
            </Button>
          )}
        </span>
      </div>
    </Panel>
  );
}
