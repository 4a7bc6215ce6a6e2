import { useEffect } from 'react';
import * as v from 'valibot';

import { AttemptEventSchema } from '#api';
import { api } from '#web/api';
import { attemptMoved, useAppDispatch } from '#web/store';

/** Keeps the page up to date while attempts are worked on; after a lost connection everything is asked again. */
export function useAttemptEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let lost = false;
    source.addEventListener('attempt', (message: MessageEvent<string>) => {
      const parsed = v.safeParse(v.pipe(v.string(), v.parseJson(), AttemptEventSchema), message.data);
      if (!parsed.success) return;
      const event = parsed.output;
      dispatch(attemptMoved(event));
      if (event.stage === null || event.stage === 'reading')
        dispatch(api.util.invalidateTags(['assignments', 'work', { type: 'attempt', id: event.attemptId }]));
    });
    source.addEventListener('error', () => {
      lost = true;
    });
    source.addEventListener('hello', () => {
      if (lost) dispatch(api.util.invalidateTags(['assignments', 'work', 'attempt']));
      lost = false;
    });
    return () => {
      source.close();
    };
  }, [dispatch]);
}
