import { useState } from 'react';

import type { WorkDetail } from '#api';
import { massOf } from '#core/material';
import { describeFace, measureBetween, type Reading } from '#core/measure';
import type { DrawingUnit } from '#core/quantity';
import { Button, Panel } from '#web/ui';
import { ModelView } from '#web/viewer';
import type { InspectAnswer } from '#web/workshop';

import { lengthText, propertyText, readingText } from './figures.ts';

interface MeasuredProps {
  readonly answer: InspectAnswer;
  readonly work: WorkDetail;
}

/** A model in 3D with a measuring tool, and what it is as a whole. */
export function Measured({ answer, work }: MeasuredProps) {
  const [picked, setPicked] = useState<readonly number[]>([]);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
      <div className="h-[32rem] border border-rule">
        <ModelView
          model={answer.model}
          label="Your model"
          pickedFaces={new Set(picked)}
          onPick={(faceId) => {
            setPicked(afterPick(picked, faceId));
          }}
        />
      </div>
      <div className="flex flex-col gap-4">
        <Tool
          answer={answer}
          picked={picked}
          unit={work.unit}
          onClear={() => {
            setPicked([]);
          }}
        />
        <Whole answer={answer} work={work} onMark={setPicked} />
      </div>
    </div>
  );
}

/** A third face begins anew; one that is picked already is let go; beside the part lets go of all. */
function afterPick(picked: readonly number[], faceId: number | null): readonly number[] {
  if (faceId === null) return [];
  if (picked.includes(faceId)) return picked.filter((one) => one !== faceId);
  return picked.length >= 2 ? [faceId] : [...picked, faceId];
}

interface ToolProps {
  readonly answer: InspectAnswer;
  readonly picked: readonly number[];
  readonly unit: DrawingUnit;
  readonly onClear: () => void;
}

/** What the picked faces are, and how they lie to each other. */
function Tool({ answer: { faces, edges }, picked, unit, onClear }: ToolProps) {
  const chosen = picked.length > 2 ? [] : picked.flatMap((id) => faces.find((face) => face.id === id) ?? []);
  const [first, second] = chosen;
  const between = first !== undefined && second !== undefined ? measureBetween(first, second) : [];
  return (
    <Panel title="Measuring tool" aside={picked.length > 0 && <Button onClick={onClear}>Let go</Button>}>
      <div className="flex flex-col gap-3 p-3" data-testid="measuring" role="status">
        {chosen.length === 0 && (
          <p className="text-soft">Pick a face of the part, and a second one to measure between.</p>
        )}
        {second !== undefined && (
          <section>
            <h3 className="font-semibold">Between the two</h3>
            {between.length === 0 ? (
              <p className="text-soft">A free-form face has no plane and no axis to measure from.</p>
            ) : (
              <Readings readings={between} unit={unit} />
            )}
          </section>
        )}
        {chosen.map((face, i) => {
          const { what, readings } = describeFace(face, edges);
          return (
            <section key={face.id}>
              <h3 className="font-semibold">
                {i === 0 ? 'First' : 'Second'}: {what}
              </h3>
              <Readings readings={readings} unit={unit} />
            </section>
          );
        })}
      </div>
    </Panel>
  );
}

function Readings({ readings, unit }: { readonly readings: readonly Reading[]; readonly unit: DrawingUnit }) {
  return (
    <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 text-sm">
      {readings.map((reading) => (
        <div key={reading.label} className="contents">
          <dt className="text-soft">{reading.label}</dt>
          <dd className="text-right tabular-nums">{readingText(reading, unit)}</dd>
        </div>
      ))}
    </dl>
  );
}

/** The file as a whole: what it is, what it weighs, and what would cost points. */
function Whole({ answer, work, onMark }: MeasuredProps & { readonly onMark: (faceIds: readonly number[]) => void }) {
  const { estimate, sizeMm, bodies, closed, warnings, features } = answer;
  const { unit } = work;
  const rows: readonly (readonly [string, string])[] = [
    ['Bodies', `${String(bodies)}${closed ? ', closed' : ', not closed'}`],
    ['Size', `${sizeMm.map((mm) => lengthText(mm, unit)).join(' x ')} ${unit}`],
    ['Volume', propertyText(estimate.volumeMm3, 'volume', unit)],
    ['Area', propertyText(estimate.areaMm2, 'area', unit)],
    [
      `Mass in ${work.material.toLowerCase()}`,
      propertyText(massOf(estimate.volumeMm3, work.densityGPerCm3), 'mass', unit),
    ],
    ['Center of mass', `${estimate.centroidMm.map((mm) => lengthText(mm, unit)).join(' / ')} ${unit}`],
  ];
  return (
    <>
      <Panel title="The whole model">
        <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-0.5 p-3 text-sm" data-testid="whole-model">
          {rows.map(([label, value]) => (
            <div key={label} className="contents">
              <dt className="text-soft">{label}</dt>
              <dd className="text-right tabular-nums">{value}</dd>
            </div>
          ))}
        </dl>
        {warnings.map(({ code, message }) => (
          <p
            key={message}
            className={`border-t px-3 py-1.5 text-sm ${code === 'unit-guessed' ? 'border-rule' : 'border-near bg-near-soft'}`}
          >
            {message}
          </p>
        ))}
      </Panel>
      {features.length > 0 && (
        <Panel title="What was found on it">
          <ul className="grid grid-cols-2">
            {features.map(({ kind, count, faceIds }) => (
              <li key={kind} className="border-r border-b border-rule">
                <button
                  type="button"
                  className="flex w-full cursor-pointer justify-between px-3 py-1 text-left hover:bg-accent-soft"
                  onClick={() => {
                    onMark(faceIds);
                  }}
                >
                  <span>{kind.replace(/-/g, ' ')}</span>
                  <span className="text-soft">{count}</span>
                </button>
              </li>
            ))}
          </ul>
        </Panel>
      )}
    </>
  );
}
