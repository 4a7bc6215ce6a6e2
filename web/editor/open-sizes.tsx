import { useEffect, useRef, type ComponentProps } from 'react';

import { subjectOf } from '#core/check';
import { withProposal } from '#core/determinacy';
import type { Exercise } from '#core/exercise';

import { Completeness } from './completeness.tsx';
import { useDeterminacy } from './determinacy.ts';

interface OpenSizesProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly answer: ComponentProps<typeof Completeness>['answer'];
  readonly onChange: (change: (exercise: Exercise) => Exercise) => void;
  readonly onChoose: (checkIds: readonly string[]) => void;
}

/** What the sheet does not say or says twice, studied beside the page; what would cure it is added to the plan. */
export function OpenSizes({ id, exercise, answer, onChange, onChoose }: OpenSizesProps) {
  const determinacy = useDeterminacy(id, exercise);
  const plan = useRef(exercise.checks);
  useEffect(() => {
    plan.current = exercise.checks;
  });
  return (
    <Completeness
      answer={answer}
      determinacy={determinacy.state}
      checks={exercise.checks}
      onChoose={onChoose}
      onAdd={(check) => {
        onChange((before) => withProposal(before, check));
        const added = withProposal(exercise, check).checks.find((one) => subjectOf(one) === subjectOf(check));
        onChoose(added === undefined ? [] : [added.id]);
      }}
      onAddAll={async () => {
        const { checks } = exercise;
        const completed = await determinacy.complete();
        if (!completed.ok) return completed.problem.message;
        if (plan.current !== checks) return 'The plan changed meanwhile, so nothing was added. Press again.';
        onChange((before) => (before.checks === checks ? { ...before, checks: completed.value } : before));
        return null;
      }}
    />
  );
}
