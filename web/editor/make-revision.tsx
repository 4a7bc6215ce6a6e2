import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';

import type { RevisionJob } from '#api';
import type { Exercise } from '#core/exercise';
import { failureText, useMakeRevisionMutation, useRevisionJobQuery } from '#web/api';
import { api } from '#web/server';
import { useAppDispatch } from '#web/store';
import { Button } from '#web/ui';

import type { EditedDocument } from './document.ts';

const POLL_MS = 700;

/** Begins a revision, shows how far the server is with it, whoever began it, and why none came of it. */
export function MakeRevision({
  edited: { version, state },
  id,
}: {
  readonly edited: EditedDocument<Exercise>;
  readonly id: number;
}) {
  const [make, { isLoading, error }] = useMakeRevisionMutation();
  const { job, begun } = useJob(id);
  const isRunning = job?.state === 'running';
  const problem = error === undefined ? job?.problem?.message : failureText(error);
  return (
    <span className="inline-flex flex-wrap items-center justify-end gap-2">
      {problem !== undefined && !isRunning && !isLoading && (
        <span role="alert" className="max-w-md border-l-4 border-wrong bg-wrong-soft px-2 py-1 text-sm">
          {problem}
        </span>
      )}
      <Button
        kind="main"
        disabled={isLoading || isRunning || state.kind !== 'saved'}
        onClick={() => {
          void make({ id, version }).then(({ data }) => {
            if (data) begun();
          });
        }}
      >
        {isRunning ? progressText(job) : isLoading ? 'Building the revision ...' : 'Make a revision'}
      </Button>
    </span>
  );
}

const progressText = ({ done, total }: RevisionJob): string =>
  total > 1
    ? `Building the revision: part ${String(Math.min(done + 1, total))} of ${String(total)}`
    : 'Building the revision ...';

/** The revision that is being made; who began it here is led to it when it is there. */
function useJob(id: number) {
  const [isPolled, setIsPolled] = useState(false);
  const { data: job, refetch } = useRevisionJobQuery(id, {
    pollingInterval: isPolled ? POLL_MS : 0,
    refetchOnMountOrArgChange: true,
  });
  const [isBegunHere, setIsBegunHere] = useState(false);
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const isRunning = job?.state === 'running';
  if (isRunning !== isPolled) setIsPolled(isRunning);
  const made = job?.state === 'done' ? job.revision : null;
  useEffect(() => {
    if (isRunning || !isBegunHere || made === null) return;
    toast.success(`Revision ${String(made)} is ready to be issued.`);
    dispatch(api.util.invalidateTags(['exercises']));
    void navigate(`/exercises/${String(id)}`);
  }, [isRunning, isBegunHere, made, id, navigate, dispatch]);
  // The job that ran before is not taken for the one that was just begun.
  const begun = (): void => {
    void refetch().then(() => {
      setIsBegunHere(true);
    });
  };
  return { job, begun };
}
