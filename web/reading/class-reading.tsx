import { useClassReadingQuery } from '#web/api';
import { Panel, plural } from '#web/ui';

import { TOPIC_WORDS } from './words.ts';

/** How a class reads sheets: the topics of reading practice, the worst first. */
export function ClassReadingPanel({ courseId }: { readonly courseId: number }) {
  const { data = [] } = useClassReadingQuery(courseId);
  if (data.length === 0) return null;
  return (
    <Panel title="How they read sheets">
      <ul className="divide-y divide-rule" data-testid="class-reading">
        {data.map(({ topic, answers, right, students }) => (
          <li key={topic} className="flex items-baseline justify-between gap-3 px-3 py-1.5">
            <span>
              {TOPIC_WORDS[topic]}
              <span className="block caption">
                {plural(answers, 'answer')} of {plural(students, 'student')}
              </span>
            </span>
            <span className="font-semibold tabular-nums">{Math.round((100 * right) / answers)} % right</span>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
