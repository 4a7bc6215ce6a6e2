import { MapPin, X } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';

import type { AttemptDetail, CollectedRemark, Pin } from '#api';
import { fillRemark, type Report } from '#core/grade';
import { useCollectRemarkMutation, useForgetRemarkMutation, useRemarksQuery } from '#web/api';
import { Button, SelectField, TextArea, useKeptText, usePageKeys } from '#web/ui';

import { useChange } from './change.ts';

interface RemarksProps {
  readonly attempt: AttemptDetail;
  readonly report: Report;
  /** The check that is chosen, for the fields of a remark. */
  readonly checkId: string | null;
  readonly pin: Pin | null;
  readonly placing: boolean;
  readonly onPlacing: (placing: boolean) => void;
  readonly onPin: (pin: Pin | null) => void;
}

/** Remarks on an attempt, numbered as their marks on model and sheet, and a new one: typed, or from the collection. */
export function Remarks({ attempt, report, checkId, pin, placing, onPlacing, onPin }: RemarksProps) {
  const { change, busy } = useChange(attempt);
  const { data: collection = [] } = useRemarksQuery(attempt.courseId);
  const [collect] = useCollectRemarkMutation();
  const [text, setText] = useKeptText(`remark ${String(attempt.id)}`);
  const area = useRef<HTMLDivElement>(null);
  usePageKeys({ w: () => area.current?.querySelector('textarea')?.focus() });
  const add = async (): Promise<void> => {
    if (text.trim() === '' || !(await change({ kind: 'remark', text: text.trim(), pin }))) return;
    setText('');
    onPin(null);
    onPlacing(false);
  };
  const keep = (): void => {
    void collect({ courseId: attempt.courseId, text: text.trim() }).then(({ error }) => {
      if (error === undefined) toast.success('It is in the collection of the course.');
    });
  };
  const { exerciseNumber, exerciseTitle } = attempt.assignment;
  return (
    <div ref={area} className="flex flex-col gap-2">
      <Said attempt={attempt} onRemove={(remarkId) => void change({ kind: 'remove-remark', remarkId })} />
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void add();
        }}
      >
        <TextArea
          label="Remark to the student"
          rows={2}
          maxLength={1000}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && event.ctrlKey) void add();
            if (event.key === 'Escape') event.currentTarget.blur();
          }}
        />
        <FromCollection
          collection={collection}
          onChoose={(template) => {
            const filled = fillRemark(template, {
              student: attempt.student.name,
              exercise: `${exerciseNumber} ${exerciseTitle}`,
              report,
              checkId,
            });
            setText(text.trim() === '' ? filled : `${text.trim()} ${filled}`);
            area.current?.querySelector('textarea')?.focus();
          }}
        />
        <span className="flex flex-wrap items-center gap-2">
          <Button type="submit" disabled={busy || text.trim() === ''}>
            Add the remark
          </Button>
          <Button
            kind="quiet"
            aria-pressed={placing}
            className="aria-pressed:bg-accent-soft"
            onClick={() => {
              onPlacing(!placing);
              if (placing) onPin(null);
            }}
          >
            <MapPin size={14} aria-hidden />
            {pin ? `Marked on the ${pin.on}` : placing ? 'Click on model or sheet' : 'Mark a place'}
          </Button>
          {text.trim() !== '' && (
            <Button kind="quiet" onClick={keep}>
              Keep it in the collection
            </Button>
          )}
        </span>
      </form>
      <Collection courseId={attempt.courseId} collection={collection} />
    </div>
  );
}

interface SaidProps {
  readonly attempt: AttemptDetail;
  readonly onRemove: (remarkId: number) => void;
}

/** Remarks that are made, numbered as their marks. */
function Said({ attempt, onRemove }: SaidProps) {
  if (attempt.review.remarks.length === 0) return null;
  return (
    <ol className="flex flex-col gap-1" data-testid="remarks">
      {attempt.review.remarks.map(({ id, text, pin, by }, i) => (
        <li key={id} className="grid grid-cols-[1.5rem_minmax(0,1fr)_1.5rem] items-start gap-1">
          <span
            className={`flex size-5 items-center justify-center text-xs font-semibold ${pin ? 'rounded-full bg-ink text-paper' : ''}`}
            title={pin === null ? undefined : `marked on the ${pin.on}`}
          >
            {i + 1}
          </span>
          <span>
            {text} <span className="caption">{by}</span>
          </span>
          <button
            type="button"
            aria-label={`Remove remark ${String(i + 1)}`}
            className="flex size-5 cursor-pointer items-center justify-center hover:bg-accent-soft"
            onClick={() => {
              onRemove(id);
            }}
          >
            <X size={13} aria-hidden />
          </button>
        </li>
      ))}
    </ol>
  );
}

interface FromCollectionProps {
  readonly collection: readonly CollectedRemark[];
  readonly onChoose: (template: string) => void;
}

function FromCollection({ collection, onChoose }: FromCollectionProps) {
  if (collection.length === 0) return null;
  return (
    <SelectField
      label="or from the collection"
      value=""
      onChange={(event) => {
        const chosen = collection.find(({ id }) => String(id) === event.target.value);
        if (chosen !== undefined) onChoose(chosen.text);
      }}
    >
      <option value="">Choose a remark; its fields fill themselves</option>
      {collection.map(({ id, text }) => (
        <option key={id} value={id}>
          {text}
        </option>
      ))}
    </SelectField>
  );
}

interface CollectionProps {
  readonly courseId: number;
  readonly collection: readonly CollectedRemark[];
}

/** The remarks that the course keeps, each of which can be taken out. */
function Collection({ courseId, collection }: CollectionProps) {
  const [collect] = useCollectRemarkMutation();
  const [forget] = useForgetRemarkMutation();
  const drop = (id: number, template: string): void => {
    void forget({ courseId, id }).then(({ error }) => {
      if (error === undefined)
        toast('It is not in the collection any more.', {
          action: { label: 'Put it back', onClick: () => void collect({ courseId, text: template }) },
        });
    });
  };
  if (collection.length === 0) return null;
  return (
    <details className="text-sm">
      <summary className="cursor-pointer text-soft">The collection of the course, {collection.length}</summary>
      <ul data-testid="collection">
        {collection.map(({ id, text }) => (
          <li key={id} className="flex items-start justify-between gap-2 border-t border-rule py-0.5">
            {text}
            <button
              type="button"
              aria-label={`Remove from the collection: ${text}`}
              className="flex size-5 shrink-0 cursor-pointer items-center justify-center hover:bg-accent-soft"
              onClick={() => {
                drop(id, text);
              }}
            >
              <X size={13} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
