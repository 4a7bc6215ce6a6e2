/** Server-sent events: what happens to attempts, to those who may know. */
import { EventEmitter } from 'node:events';

import type { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';

import { may, type AttemptEvent } from '#api';
import type { Sessions } from '#server/auth';
import { allow, userOf, type AppEnv } from '#server/http';

interface Addressed {
  readonly event: AttemptEvent;
  readonly studentId: number;
  readonly courseId: number;
}

export interface Events {
  publish(message: Addressed): void;
  subscribe(listener: (message: Addressed) => void): () => void;
}

export function createEvents(): Events {
  const emitter = new EventEmitter();
  emitter.setMaxListeners(0);
  return {
    publish: (message) => {
      emitter.emit('attempt', message);
    },
    subscribe(listener) {
      emitter.on('attempt', listener);
      return () => emitter.off('attempt', listener);
    },
  };
}

const HEARTBEAT_MS = 20_000;

export interface EventRouteParts {
  readonly events: Events;
  readonly sessions: Pick<Sessions, 'userOf' | 'onEnd'>;
  /** The courses that an instructor teaches; a student hears of their own attempts only. */
  readonly coursesOf: (userId: number) => readonly number[];
}

/** The stream of a page. It ends with the session: at once where that is ended, and soon after it has run out. */
export function eventRoutes(app: Hono<AppEnv>, { events, sessions, coursesOf }: EventRouteParts): void {
  app.get('/api/events', allow('signed-in'), (c) => {
    const user = userOf(c);
    const token = c.get('token') ?? '';
    const courses = may(user.role, 'read-course') ? new Set(coursesOf(user.id)) : new Set<number>();
    return streamSSE(c, async (stream) => {
      const unsubscribe = events.subscribe(({ event, studentId, courseId }) => {
        if (studentId === user.id || courses.has(courseId))
          void stream.writeSSE({ event: 'attempt', data: JSON.stringify(event) });
      });
      let forget: () => void = () => undefined;
      let heartbeat: NodeJS.Timeout | undefined;
      const closed = new Promise<void>((resolve) => {
        stream.onAbort(resolve);
        forget = sessions.onEnd(token, resolve);
        heartbeat = setInterval(() => {
          if (sessions.userOf(token) === null) resolve();
          else void stream.writeSSE({ event: 'heartbeat', data: '' });
        }, HEARTBEAT_MS);
      });
      await stream.writeSSE({ event: 'hello', data: '' });
      await closed;
      clearInterval(heartbeat);
      forget();
      unsubscribe();
    });
  });
}
