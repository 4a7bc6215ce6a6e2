import { useEffect, useRef, useState, type KeyboardEvent } from 'react';

import type { AttemptDetail } from '#api';
import { ruleLineId, typedLineId, type Override, type Report } from '#core/grade';
import { Button, SelectField, TextField, useKeptText, usePageKeys } from '#web/ui';

import { useChange } from './change.ts';

const CREDITS = [100, 75, 50, 25, 0] as const;

function overrideOf({ lines, typed, rules }: Report, lineId: string): Override | null {
  return (
    lines.find(({ checkId }) => checkId === lineId)?.override ??
    typed.find(({ name }) => typedLineId(name) === lineId)?.override ??
    rules.find((_, i) => ruleLineId(i) === lineId)?.override ??
    null
  );
}

/** Counts a line other than it was measured, with a reason; or puts it back. */
export function OverrideForm({
  attempt,
  report,
  lineId,
  byKey,
}: {
  attempt: AttemptDetail;
  report: Report;
  lineId: string;
  /** Whether the key O opens it. */
  byKey: boolean;
}) {
  const { change, busy } = useChange(attempt);
  const [open, setOpen] = useState(false);
  const [credit, setCredit] = useState(100);
  const [reason, setReason] = useKeptText(`reason ${String(attempt.id)} ${lineId}`);
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const present = overrideOf(report, lineId);
  const show = (): void => {
    setOpen(true);
  };
  usePageKeys({ o: byKey ? show : undefined });
  const save = async (): Promise<void> => {
    if (reason.trim().length < 3) {
      setProblem('Say why, in a few words.');
      return;
    }
    setProblem(undefined);
    if (!(await change({ kind: 'override', lineId, credit: credit / 100, reason: reason.trim() }))) return;
    setReason('');
    setOpen(false);
  };
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (open) form.current?.querySelector('select')?.focus();
  }, [open]);
  const closeOnEscape = ({ key }: KeyboardEvent<HTMLElement>): void => {
    if (key === 'Escape') setOpen(false);
  };
  if (!open)
    return (
      <span className="mt-1 flex gap-2">
        <button type="button" className="cursor-pointer text-sm underline" onClick={show}>
          Count it otherwise {byKey && <kbd className="text-xs text-soft">O</kbd>}
        </button>
        {present && (
          <button
            type="button"
            className="cursor-pointer text-sm underline"
            disabled={busy}
            onClick={() => void change({ kind: 'restore', lineId })}
          >
            Count it as measured
          </button>
        )}
      </span>
    );
  return (
    <form
      ref={form}
      noValidate
      className="mt-2 grid grid-cols-[7rem_minmax(0,1fr)] items-start gap-x-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <SelectField
        label="Counts"
        onKeyDown={closeOnEscape}
        value={String(credit)}
        onChange={(event) => {
          setCredit(Number(event.target.value));
        }}
      >
        {CREDITS.map((value) => (
          <option key={value} value={value}>
            {value} %
          </option>
        ))}
      </SelectField>
      <TextField
        label="Because"
        onKeyDown={closeOnEscape}
        value={reason}
        maxLength={500}
        error={problem}
        onChange={(event) => {
          setReason(event.target.value);
        }}
      />
      <span className="col-span-2 flex gap-2">
        <Button type="submit" kind="main" disabled={busy}>
          Count it this way
        </Button>
        <Button kind="quiet" onClick={() => setOpen(false)}>
          Leave it
        </Button>
      </span>
    </form>
  );
}
