import { Popover } from 'radix-ui';

import type { WorkDetail } from '#api';
import { WORDS, type WordId } from '#core/words';
import { useSheetWordsQuery } from '#web/api';
import { Panel } from '#web/ui';

import { WordPicture } from './picture.tsx';

/** The words and signs of the own sheet; each opens to a picture and a sentence. */
export function WordsPanel({ work: { id, stage } }: { readonly work: Pick<WorkDetail, 'id' | 'stage'> }) {
  const { data } = useSheetWordsQuery({ id, stage });
  if (data === undefined || data.length === 0) return null;
  return (
    <Panel title="Words of this sheet">
      <ul className="flex flex-wrap gap-1.5 px-3 py-2" data-testid="words">
        {data.map((word) => (
          <li key={word}>
            <Explained word={word} />
          </li>
        ))}
      </ul>
    </Panel>
  );
}

function Explained({ word }: { readonly word: WordId }) {
  const { name, meaning } = WORDS[word];
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          className="cursor-pointer border border-rule bg-paper px-1.5 py-0.5 text-sm hover:border-accent data-[state=open]:border-accent data-[state=open]:bg-accent-soft"
        >
          {name}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={8}
          aria-label={name}
          className="z-40 w-72 border border-ink bg-paper p-3 text-sm text-ink"
        >
          <WordPicture word={word} />
          <p className="mt-2">
            <b>{name}.</b> {meaning}
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
