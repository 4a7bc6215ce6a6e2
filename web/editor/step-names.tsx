import { useState } from 'react';

import type { Step } from '#core/recipe';
import { TextField } from '#web/ui';

/** A step in words, and the name that its surfaces begin with. */
export function StepNames({
  step,
  taken,
  onLabel,
  onRename,
}: {
  step: Step;
  taken: readonly string[];
  onLabel: (label: string) => void;
  onRename: (id: string) => void;
}) {
  const [id, setId] = useState(step.id);
  const sound = /^[a-z][a-z0-9-]{0,39}$/.test(id) && (id === step.id || !taken.includes(id));
  return (
    <div className="grid w-full grid-cols-2 gap-3">
      <TextField
        label="In words"
        value={step.label ?? ''}
        placeholder={step.id}
        onChange={(event) => {
          onLabel(event.target.value);
        }}
      />
      <TextField
        label="Name for its surfaces"
        value={id}
        error={sound ? undefined : 'Small letters, digits and dashes, and not taken'}
        onChange={(event) => {
          setId(event.target.value);
        }}
        onBlur={() => {
          if (sound && id !== step.id) onRename(id);
          else if (!sound) setId(step.id);
        }}
      />
    </div>
  );
}
