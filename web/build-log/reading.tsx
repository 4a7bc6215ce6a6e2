import { useMemo } from 'react';

import { readBuildLog } from '#core/buildlog';
import { operationName } from '#core/recipe';

/** The lines of a list of build steps with what each is taken for; what was not understood stands out. */
export default function Reading({ text }: { text: string }) {
  const result = useMemo(() => readBuildLog(text), [text]);
  if (!result.ok)
    return (
      <p role="alert" className="text-sm text-wrong">
        {result.problem.message}
      </p>
    );
  const { steps, unread, format } = result.value;
  const lines = [
    ...steps.map(({ line, text: words, operation }) => ({ line, words, read: operationName(operation) })),
    ...unread.map(({ line, text: words }) => ({ line, words, read: null })),
  ].sort((a, b) => a.line - b.line);
  return (
    <div data-testid="build-log">
      <p className="caption">
        {format === 'recipe' ? 'A recipe with ' : ''}
        {steps.length} {steps.length === 1 ? 'step' : 'steps'} understood
        {unread.length > 0 ? `; ${String(unread.length)} in other words, please` : ''}.
      </p>
      <ol className="text-sm">
        {lines.map(({ line, words, read }) => (
          <li key={line} className="grid grid-cols-[1.5rem_minmax(0,1fr)_auto] gap-x-2">
            <span className="text-right text-soft">{line}</span>
            <span className="truncate" title={words}>
              {words}
            </span>
            <span className={read === null ? 'font-medium text-wrong' : 'text-soft'}>{read ?? 'not understood'}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
