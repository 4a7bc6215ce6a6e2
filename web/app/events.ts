import { useEffect } from 'react';
import * as v from 'valibot';

import { AttemptEventSchema } from '#api/event';
import { api } from '#web/server';
import { attemptMoved, useAppDispatch } from '#web/store';

/** Lists follow what happens to attempts this much later. */
const LISTS_MS = 800;

/**
 * Keeps the page up to date while attempts are worked on. The connection is held only while the page can be seen: a
 * browser allows few connections to a server, and hidden or left pages would use them up. What was missed meanwhile
 * is asked again.
 */
export function useAttemptEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    let source: EventSource | null = null;
    let missed = false;
    let lists: ReturnType<typeof setTimeout> | undefined;
    const onAttempt = (message: MessageEvent<string>): void => {
      const parsed = v.safeParse(v.pipe(v.string(), v.parseJson(), AttemptEventSchema), message.data);
      if (!parsed.success) return;
      const event = parsed.output;
      dispatch(attemptMoved(event));
      if (event.stage !== null && event.stage !== 'reading') return;
      dispatch(api.util.invalidateTags(['work', { type: 'attempt', id: event.attemptId }]));
      // While a whole class hands in, lists are asked for once in a while, not with each attempt.
      lists ??= setTimeout(() => {
        lists = undefined;
        dispatch(api.util.invalidateTags(['assignments', 'news']));
      }, LISTS_MS);
    };
    const close = (): void => {
      missed ||= source !== null;
      source?.close();
      source = null;
    };
    const open = (): void => {
      if (source !== null) return;
      source = new EventSource('/api/events');
      source.addEventListener('attempt', onAttempt);
      source.addEventListener('error', () => {
        missed = true;
      });
      source.addEventListener('hello', () => {
        if (missed) dispatch(api.util.invalidateTags(['assignments', 'work', 'attempt']));
        missed = false;
      });
    };
    const follow = (): void => {
      if (document.visibilityState === 'visible') open();
      else close();
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    window.addEventListener('pagehide', close);
    window.addEventListener('pageshow', follow);
    return () => {
      document.removeEventListener('visibilitychange', follow);
      window.removeEventListener('pagehide', close);
      window.removeEventListener('pageshow', follow);
      clearTimeout(lists);
      close();
    };
  }, [dispatch]);
}
