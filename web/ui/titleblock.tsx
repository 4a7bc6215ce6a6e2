import type { ReactNode } from 'react';

export interface Fact {
  readonly label: string;
  readonly value: ReactNode;
  /** Columns of the block that the cell takes, of 6. */
  readonly span?: 1 | 2 | 3 | 4 | 6;
}

const SPANS = { 1: 'col-span-1', 2: 'col-span-2', 3: 'col-span-3', 4: 'col-span-4', 6: 'col-span-6' } as const;

/** The facts of a page in ruled cells, always at the upper right, as the title block of a sheet is at the lower right. */
export function TitleBlock({ facts }: { facts: readonly Fact[] }) {
  return (
    <dl className="grid w-full grid-cols-6 border-t border-l border-ink/70 bg-paper md:w-[30rem]">
      {facts.map(({ label, value, span = 2 }) => (
        <div key={label} className={`min-w-0 border-r border-b border-ink/70 px-2 pt-0.5 pb-1 ${SPANS[span]}`}>
          <dt className="caption">{label}</dt>
          <dd className="truncate text-sm leading-5 font-medium">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Heading with the answer of the page, and its facts. */
export function PageHead({
  answer,
  detail,
  facts,
  actions,
}: {
  answer: ReactNode;
  detail?: ReactNode;
  facts?: readonly Fact[];
  actions?: ReactNode;
}) {
  return (
    <header className="flex flex-wrap items-start justify-between gap-4">
      <div className="min-w-0 flex-1 basis-80">
        <h1 className="text-2xl leading-8">{answer}</h1>
        {detail && <div className="mt-1 max-w-[70ch] text-soft">{detail}</div>}
        {actions && <div className="mt-3 flex flex-wrap gap-2">{actions}</div>}
      </div>
      {facts && <TitleBlock facts={facts} />}
    </header>
  );
}
