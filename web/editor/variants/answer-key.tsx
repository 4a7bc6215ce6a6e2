import { useMemo, useState } from 'react';
import { toast } from 'sonner';

import type { Exercise } from '#core/exercise';
import { keyAsCsv, keyRows, type KeyEntry } from '#core/variant';
import { failureText, usePrintKeyMutation } from '#web/api';
import { Button, Panel, saveFile } from '#web/ui';
import { SUPERSEDED, type WorkshopClient } from '#web/workshop';

interface AnswerKeyProps {
  /** Of the exercise. */
  readonly id: number;
  readonly exercise: Exercise;
  readonly workshop: WorkshopClient;
}

/** Volume, mass, area, center and size of every variant and stage, as a table, CSV and PDF. */
export function AnswerKey({ id, exercise, workshop }: AnswerKeyProps) {
  const { recipe, variants, stages } = exercise;
  const basis = useMemo(() => ({ recipe, variants, stages }), [recipe, variants, stages]);
  const [worked, setWorked] = useState<{ readonly of: object; readonly entries: readonly KeyEntry[] } | null>(null);
  const key = worked?.of === basis ? worked.entries : null;
  const workOut = (): void => {
    void workshop.ask<'key'>({ kind: 'key', exercise }).then((result) => {
      if (result.ok) setWorked({ of: basis, entries: result.value });
      else if (result.problem.code !== SUPERSEDED) toast.error(result.problem.message);
    });
  };
  const hasThreads = recipe.steps.some((step) => step.op === 'thread' || (step.op === 'hole' && step.tapped));
  return (
    <Panel
      title="Answer key"
      aside={
        <span className="flex gap-2">
          <Button onClick={workOut}>Work out the key</Button>
          {key !== null && <KeyFiles id={id} exercise={exercise} entries={key} />}
        </span>
      }
    >
      {key === null ? (
        <p className="px-3 py-3 text-soft">
          Volume, mass, area, center and size of every variant and stage.
          {hasThreads ? ' Threads are not part of the volume or the mass.' : ''}
        </p>
      ) : (
        <KeyTable entries={key} exercise={exercise} />
      )}
    </Panel>
  );
}

interface KeyFilesProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly entries: readonly KeyEntry[];
}

function KeyFiles({ id, exercise, entries }: KeyFilesProps) {
  const [printKey] = usePrintKeyMutation();
  return (
    <>
      <Button
        onClick={() => {
          const letters = exercise.recipe.parameters.map(({ name }) => name);
          saveFile(new Blob([keyAsCsv(entries, letters)], { type: 'text/csv' }), `${exercise.number}-key.csv`);
        }}
      >
        Key as CSV
      </Button>
      <Button
        onClick={() => {
          void printKey({ id, entries: [...entries] })
            .unwrap()
            .then((pdf) => {
              saveFile(pdf, `${exercise.number}-key.pdf`);
            })
            .catch((error: unknown) => toast.error(failureText(error)));
        }}
      >
        Key as PDF
      </Button>
    </>
  );
}

function KeyTable({ entries, exercise }: { entries: readonly KeyEntry[]; exercise: Exercise }) {
  const { head, body } = keyRows(entries, exercise);
  return (
    <table className="w-full text-sm" data-testid="key">
      <thead>
        <tr className="border-b border-rule text-left caption">
          {head.map((title, i) => (
            <th key={title} className={`py-1 font-normal ${i === 0 ? 'px-3' : ''}`}>
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {body.map((cells) => (
          <tr key={cells.slice(0, 2).join(' ')} className="border-b border-rule">
            {cells.map((cell, i) => (
              <td key={head[i]} className={`py-1 ${i === 0 ? 'px-3 font-medium' : 'pr-2'}`}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
