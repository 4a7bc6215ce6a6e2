import { Link } from 'react-router';

import type { WorkItem } from '#api';
import { useReadingDueQuery } from '#web/api';

import { TOPIC_WORDS } from './words.ts';

/** Topics of reading practice that are due, with a sheet to practice on; nothing where none is. */
export function ReadingDue({ work }: { readonly work: readonly WorkItem[] }) {
  const { data = [] } = useReadingDueQuery();
  const sheet = work.find(({ aids }) => aids.reading !== 'none');
  if (data.length === 0 || sheet === undefined) return null;
  return (
    <p className="mb-3 border-l-4 border-accent bg-accent-soft px-3 py-2 text-sm" data-testid="reading-due">
      Reading practice is due: {data.map((topic) => TOPIC_WORDS[topic].toLowerCase()).join(', ')}.{' '}
      <Link className="underline" to={`/my/${String(sheet.id)}/read`}>
        Practice on the {sheet.exerciseTitle.toLowerCase()}
      </Link>
    </p>
  );
}
