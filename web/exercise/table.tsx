import { Link } from 'react-router';

import type { ExerciseSummary } from '#api';
import { formatFixed } from '#core/quantity';

import { TableHead } from '#web/ui';

import { ExerciseMenu } from './menu.tsx';

/** Where an exercise is looked at: a draft without any revision in its editor. */
export const pathOf = ({ id, revision }: Pick<ExerciseSummary, 'id' | 'revision'>): string =>
  `/exercises/${String(id)}${revision === null ? '/edit' : ''}`;

const HEADS = ['Number', 'Title', 'Level', 'Unit', 'Material', 'Mass', 'Steps', 'Letters', 'Issued', 'Tags', ''];

/** Exercises as a list. */
export function ExerciseTable({ exercises }: { readonly exercises: readonly ExerciseSummary[] }) {
  return (
    <div className="overflow-x-auto panel">
      <table className="w-full text-left text-sm" data-testid="exercises">
        <TableHead heads={HEADS} />
        <tbody className="divide-y divide-rule">
          {exercises.map((exercise) => (
            <tr key={exercise.id}>
              <td className="px-3 font-medium whitespace-nowrap">{exercise.number}</td>
              <th scope="row" className="px-3 font-medium">
                <Link to={pathOf(exercise)} className="hover:underline">
                  {exercise.title}
                </Link>
              </th>
              <td className="px-3">{exercise.level}</td>
              <td className="px-3">{exercise.unit}</td>
              <td className="px-3">{exercise.material}</td>
              <td className="px-3 text-right whitespace-nowrap tabular-nums">
                {exercise.massG === null ? '' : `${formatFixed(exercise.massG, 1)} g`}
              </td>
              <td className="px-3">{exercise.operations.join(', ')}</td>
              <td className="px-3">{exercise.letters.join(' ')}</td>
              <td className="px-3 text-right tabular-nums">{exercise.assignments}</td>
              <td className="px-3">{exercise.tags.join(', ')}</td>
              <td className="px-1">
                <ExerciseMenu exercise={exercise} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
