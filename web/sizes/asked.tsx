import { useState } from 'react';

import type { Aids, Along, SizeAnswer, SizeLink, WorkedSize } from '#api';
import { Signed } from '#web/sheet';
import { Alert, Button, TextField } from '#web/ui';

interface AskedProps {
  readonly answer: SizeAnswer;
  readonly help: Aids['sizes'];
  readonly isBusy: boolean;
  /** Shows so many links. */
  readonly onLinks: (shown: number) => void;
  readonly onAlong: (along: Along) => void;
  readonly onSum: (sum: string) => void;
  readonly onKeep: (size: Pick<WorkedSize, 'name' | 'sum' | 'help'>) => void;
}

const VERDICTS = {
  agrees: 'That is it.',
  differs: 'It is another size. Look at each link once more: what is added, and what is taken off?',
  unreadable: 'That is not a sum that can be read. Write it like 84 - 15.',
} as const;

/** A size that was picked on the sheet: what it follows from, as far as is asked, and what was worked out. */
export function Asked({ answer, help, isBusy, onLinks, onAlong, onSum, onKeep }: AskedProps) {
  const [sum, setSum] = useState('');
  const [name, setName] = useState('');
  const [tried, setTried] = useState('');
  const { kind, links, count, verdict, along } = answer;
  const isRight = verdict === 'agrees' && tried === sum;
  return (
    <div className="flex flex-col gap-3 p-3" data-testid="asked-size">
      <p role="status">
        <Signed text={sentenceOf(answer)} />
      </p>
      <div className="flex flex-wrap gap-2">
        <Button
          kind="quiet"
          onClick={() => {
            onAlong(along === 'across' ? 'up' : 'across');
          }}
        >
          {along === 'across' ? 'Measure it upward instead' : 'Measure it across instead'}
        </Button>
        {kind === 'follows' && help !== 'none' && links.length < count && (
          <Button
            disabled={isBusy}
            onClick={() => {
              onLinks(help === 'chain' ? count : links.length + 1);
            }}
          >
            {help === 'chain' ? 'Show the chain' : links.length === 0 ? 'Help with the first link' : 'And the next'}
          </Button>
        )}
      </div>
      {kind === 'follows' && links.length > 0 && (
        <ol className="flex flex-col gap-1 border-l-4 border-rule pl-3" data-testid="links">
          {links.map((link, i) => (
            <li key={i}>
              <Signed text={linkWords(link, i === 0)} />
            </li>
          ))}
        </ol>
      )}
      {kind !== 'written' && (
        <form
          className="flex flex-col gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (sum.trim() === '') return;
            setTried(sum);
            onSum(sum.trim());
          }}
        >
          <TextField
            label="What do you make of it?"
            hint="A number or a sum: 84 - 2*7.5, A - B/2, 1 3/4 - 5/16"
            value={sum}
            onChange={(event) => {
              setSum(event.target.value);
            }}
          />
          <div>
            <Button type="submit" disabled={isBusy || sum.trim() === ''}>
              Is that right?
            </Button>
          </div>
          {verdict !== null && tried === sum && (
            <p role="status" className={isRight ? 'font-medium text-accent' : 'text-wrong'} data-testid="sum-verdict">
              {VERDICTS[verdict]}
            </p>
          )}
        </form>
      )}
      {isRight && (
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            const used = links.length === 0 ? 'none' : links.length < count ? 'link' : 'chain';
            onKeep({ name: name.trim(), sum: sum.trim(), help: used });
          }}
        >
          <TextField
            label="What it is"
            value={name}
            maxLength={80}
            onChange={(event) => {
              setName(event.target.value);
            }}
          />
          <Button type="submit">Keep it on my sheet</Button>
        </form>
      )}
      {kind === 'otherwise' && (
        <Alert>
          It does not follow along one line. Look for a center line that both sides are symmetric about, an angle, a
          tangent or a note.
        </Alert>
      )}
    </div>
  );
}

function sentenceOf({ kind, links, count, along }: SizeAnswer): string {
  const way = along === 'across' ? 'Across' : 'Upward';
  if (kind === 'written') {
    const dimension = links[0]?.dimension;
    return dimension
      ? `${way}: the sheet says it, ${dimension.printed} (${dimension.label}).`
      : `${way}: the sheet says it.`;
  }
  if (kind === 'otherwise') return `${way}: the sheet does not write it.`;
  return count === 1
    ? `${way}: it is not written, but follows from one size of the sheet.`
    : `${way}: it is not written, but follows from ${String(count)} sizes of the sheet. Which are they?`;
}

function linkWords({ dimension, part, sense }: SizeLink, isFirst: boolean): string {
  const what =
    dimension === null
      ? 'what the picture shows by itself'
      : `${part === 'half' ? 'half of ' : ''}${dimension.printed} (${dimension.label})`;
  if (isFirst) return sense === 'plus' ? `Begin with ${what}` : `Take off ${what}`;
  return sense === 'plus' ? `add ${what}` : `take off ${what}`;
}
