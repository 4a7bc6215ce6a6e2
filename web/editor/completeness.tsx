import { useState } from 'react';

import { isOnSheet, subjectOf, type Check } from '#core/check';
import type { ChainFinding, DerivedSize } from '#core/chain';
import type { OpenSize, OpenSizes } from '#core/determinacy';
import { Button, Panel, plural } from '#web/ui';
import type { SheetAnswer } from '#web/workshop';

import type { DeterminacyState } from './determinacy.ts';

interface CompletenessProps {
  readonly answer: SheetAnswer | null;
  readonly determinacy: DeterminacyState;
  readonly checks: readonly Check[];
  readonly onChoose: (checkIds: readonly string[]) => void;
  readonly onAdd: (check: Check) => void;
  /** Adds whatever settles the open sizes; a sentence where it could not. */
  readonly onAddAll: () => Promise<string | null>;
}

/** A size that is open, and what of sheet and plan leaves it so. */
interface Open {
  readonly size: OpenSize;
  readonly unsaid: boolean;
  readonly unchecked: boolean;
}

/** What is open, as far as it is known: until the next answer as it was before the plan changed. */
const openSizesIn = (determinacy: DeterminacyState): OpenSizes | null =>
  determinacy.kind === 'known' ? determinacy.open : determinacy.kind === 'building' ? determinacy.last : null;

function openOf(sizes: OpenSizes | null): readonly Open[] {
  if (sizes === null) return [];
  const { undetermined, unchecked } = sizes;
  const has = (list: readonly OpenSize[], { what }: OpenSize): boolean => list.some((other) => other.what === what);
  return [
    ...undetermined.map((size) => ({ size, unsaid: true, unchecked: has(unchecked, size) })),
    ...unchecked.filter((size) => !has(undetermined, size)).map((size) => ({ size, unsaid: false, unchecked: true })),
  ];
}

/** What the sheet fails to say, what no check decides, what is said twice, and what its reader has to work out. */
export function Completeness({ answer, determinacy, checks, onChoose, onAdd, onAddAll }: CompletenessProps) {
  if (answer === null) return null;
  const sizes = openSizesIn(determinacy);
  const open = openOf(sizes);
  const about = new Set(open.flatMap(({ size }) => size.faceIds));
  const needed = new Set(sizes?.needed ?? []);
  // Sums along the axes may fit by chance: what the study finds open is not said twice there, nor said.
  const findings = answer.findings.filter(({ kind, faceIds, checkIds: [checkId = ''] }) =>
    kind === 'missing' ? faceIds.every((id) => !about.has(id)) : kind !== 'repeated' || !needed.has(checkId),
  );
  // What is open does not follow from anything, however well a sum of other sizes fits.
  const derived = answer.derived.filter(({ checkId }) => (answer.facesOf[checkId] ?? []).every((id) => !about.has(id)));
  return (
    <Panel title={titleOf(findings, open, determinacy)}>
      <Study determinacy={determinacy} />
      <AddAll count={open.filter(({ size }) => size.proposal !== null).length} onAddAll={onAddAll} />
      <ul className="divide-y divide-rule text-sm" data-testid="completeness">
        {open.map((one) => (
          <OpenRow key={one.size.what} open={one} checks={checks} onAdd={onAdd} />
        ))}
        {findings.map((finding) => (
          <FindingRow key={finding.message} finding={finding} onChoose={onChoose} />
        ))}
        {derived.map((size) => (
          <DerivedRow key={size.checkId} size={size} onChoose={onChoose} />
        ))}
      </ul>
    </Panel>
  );
}

function titleOf(findings: readonly ChainFinding[], open: readonly Open[], determinacy: DeterminacyState): string {
  const missing = findings.filter(({ kind }) => kind === 'missing').length + open.filter((one) => one.unsaid).length;
  const other = findings.filter(({ kind }) => kind !== 'missing').length;
  const unchecked = open.filter((one) => one.unchecked).length;
  const parts = [
    missing > 0 ? `${plural(missing, 'size')} not said` : '',
    unchecked > 0 ? `${plural(unchecked, 'size')} not checked` : '',
    other > 0 ? `${plural(other, 'size')} said twice or wrong` : '',
  ].filter((part) => part !== '');
  if (parts.length > 0) return parts.join(', ');
  return determinacy.kind === 'known' ? 'The sheet says every size, once' : 'Nothing missing found so far';
}

function studyWords(determinacy: DeterminacyState): string | null {
  switch (determinacy.kind) {
    case 'known':
      return null;
    case 'failed':
      return determinacy.message;
    case 'not-of-recipe':
      return 'A part from a file has no numbers to vary: only places along the axes are looked at.';
    case 'building': {
      const { done, total, last } = determinacy;
      if (done < total) return `Varying the sizes of the part: ${String(done)} of ${String(total)} built`;
      return last === null ? 'Varying the sizes of the part ...' : 'Looking again, for the plan has changed ...';
    }
  }
}

/** How far the study is, or why there is none. */
function Study({ determinacy }: { determinacy: DeterminacyState }) {
  const words = studyWords(determinacy);
  return words === null ? null : (
    <p role="status" className="border-b border-rule px-3 py-1.5 text-sm text-soft" data-testid="study">
      {words}
    </p>
  );
}

/** One button for several proposals: they are worked out one after the other, for the first may settle the next. */
function AddAll({ count, onAddAll }: { count: number; onAddAll: () => Promise<string | null> }) {
  const [isBusy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  if (count < 2 && problem === null) return null;
  return (
    <div className="flex items-center gap-2 border-b border-rule px-3 py-2 text-sm" data-testid="add-all">
      <Button
        disabled={isBusy}
        onClick={() => {
          setBusy(true);
          void onAddAll().then((message) => {
            setProblem(message);
            setBusy(false);
          });
        }}
      >
        {isBusy ? 'Working out what is missing ...' : 'Add all that is missing'}
      </Button>
      {problem !== null && <span role="alert">{problem}</span>}
    </div>
  );
}

const ROW = 'grid w-full grid-cols-[5.5rem_minmax(0,1fr)] gap-2 px-3 py-1.5 text-left';

function OpenRow({
  open: { size, unsaid, unchecked },
  checks,
  onAdd,
}: {
  open: Open;
  checks: readonly Check[];
  onAdd: (check: Check) => void;
}) {
  const { what, proposal } = size;
  const isThere =
    proposal !== null && checks.some((check) => subjectOf(check) === subjectOf(proposal) && isOnSheet(check));
  return (
    <li className={ROW}>
      <span className="font-medium text-wrong">{unsaid ? 'not said' : 'not checked'}</span>
      <span className="flex flex-col items-start gap-1">
        <span>
          {unsaid ? `Nothing on the sheet says ${what}` : `No check decides ${what}`}
          {unsaid && unchecked ? ', and no check decides it.' : '.'}
        </span>
        {proposal !== null &&
          (isThere ? (
            <span className="text-soft">In the draft: {proposal.label}</span>
          ) : (
            <span className="flex items-center gap-2">
              <Button
                aria-label={`Add ${proposal.label}`}
                onClick={() => {
                  onAdd(proposal);
                }}
              >
                Add
              </Button>
              <span>
                {proposal.label}
                {'nominal' in proposal ? `: ${proposal.nominal}` : ''}
              </span>
            </span>
          ))}
      </span>
    </li>
  );
}

const KINDS = {
  missing: 'not said',
  repeated: 'said twice',
  contradiction: 'contradicts',
} as const;

function FindingRow({ finding, onChoose }: { finding: ChainFinding; onChoose: (checkIds: readonly string[]) => void }) {
  return (
    <li>
      <button
        type="button"
        className={`${ROW} cursor-pointer hover:bg-accent-soft`}
        onClick={() => {
          onChoose(finding.checkIds);
        }}
      >
        <span className={finding.kind === 'missing' ? 'font-medium text-wrong' : 'font-medium text-near'}>
          {KINDS[finding.kind]}
        </span>
        <span>{finding.message}</span>
      </button>
    </li>
  );
}

function DerivedRow({
  size: { checkId, label, derivation, words },
  onChoose,
}: {
  size: DerivedSize;
  onChoose: (checkIds: readonly string[]) => void;
}) {
  return (
    <li>
      <button
        type="button"
        className={`${ROW} cursor-pointer hover:bg-accent-soft`}
        onClick={() => {
          onChoose([checkId, ...derivation.steps.flatMap((step) => step.checkId ?? [])]);
        }}
      >
        <span className="font-medium text-soft">worked out</span>
        <span>
          {label}: {words}
        </span>
      </button>
    </li>
  );
}
