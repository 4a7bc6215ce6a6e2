import { useMemo } from 'react';

import type { Exercise, Variant } from '#core/exercise';
import { useAsked, type WorkshopClient } from '#web/workshop';

import { AnswerKey } from './answer-key.tsx';
import { Generate } from './generate.tsx';
import { Pasted } from './pasted.tsx';
import { Stages } from './stages.tsx';
import { VariantTable } from './table.tsx';

interface VariantsTabProps {
  /** Of the exercise. */
  readonly id: number;
  readonly exercise: Exercise;
  readonly workshop: WorkshopClient;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

/** Other values of the letters for other students, and the numbers that prove each part. */
export function VariantsTab({ id, exercise, workshop, onChange }: VariantsTabProps) {
  const { recipe, variants, checks } = exercise;
  const basis = useMemo(() => ({ recipe, variants, checks }), [recipe, variants, checks]);
  const judged = useAsked<'judge', typeof basis>(workshop, variants.length === 0 ? null : basis, () => ({
    kind: 'judge',
    exercise: { ...exercise, ...basis },
  }));
  const verdicts = variants.length === 0 ? [] : judged.of === basis ? judged.value : null;
  const put = (next: readonly Variant[], topic: string | null = null) => {
    onChange((before) => ({ ...before, variants: [...next] }), topic);
  };
  if (recipe.parameters.length === 0)
    return (
      <p className="text-soft">The part has no letters. Give it some, and it can differ from student to student.</p>
    );
  return (
    <div className="flex flex-col gap-4">
      <VariantTable exercise={exercise} verdicts={verdicts} onPut={put} />
      <div className="grid items-start gap-4 lg:grid-cols-2">
        <Generate exercise={exercise} workshop={workshop} onFound={put} />
        <Pasted exercise={exercise} onPut={put} />
      </div>
      <Stages exercise={exercise} onChange={onChange} />
      <AnswerKey id={id} exercise={exercise} workshop={workshop} />
    </div>
  );
}
