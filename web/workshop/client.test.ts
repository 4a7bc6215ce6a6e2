import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { blankExercise } from '#core/exercise';

import { SUPERSEDED, WorkshopClient } from './client.ts';
import type { FromWorkshop, ToWorkshop } from './protocol.ts';

class FakeWorker {
  readonly sent: ToWorkshop[] = [];
  ended = false;
  onmessage: ((event: MessageEvent<FromWorkshop>) => void) | null = null;
  onerror: (() => void) | null = null;
  postMessage(message: ToWorkshop): void {
    this.sent.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  say(message: FromWorkshop): void {
    this.onmessage?.({ data: message } as MessageEvent<FromWorkshop>);
  }
}

const { recipe } = blankExercise('1', 'x', 'mm');
const build = { kind: 'build', recipe, until: null } as const;
const built = { part: null, unfinished: null, durationMs: 1 };
let workers: FakeWorker[];
const open = () =>
  new WorkshopClient(
    () => {
      const worker = new FakeWorker();
      workers.push(worker);
      return worker as unknown as Worker;
    },
    (sha256) => `/models/${sha256}`,
  );

beforeEach(() => {
  workers = [];
  vi.useFakeTimers();
  vi.stubGlobal('window', globalThis);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('the workshop', () => {
  it('gives the worker one thing at a time, and of those that wait only the newest', async () => {
    const client = open();
    const first = client.ask<'build'>(build);
    const second = client.ask<'build'>(build);
    const third = client.ask<'build'>({ ...build, until: 'base' });
    const [worker] = workers;
    expect(worker?.sent).toHaveLength(1);
    await expect(second).resolves.toMatchObject({ ok: false, problem: { code: SUPERSEDED } });
    worker?.say({ kind: 'answer', id: 1, result: { ok: true, value: built } });
    await expect(first).resolves.toEqual({ ok: true, value: built });
    expect(worker?.sent[1]?.request).toMatchObject({ until: 'base' });
    worker?.say({ kind: 'answer', id: 2, result: { ok: true, value: built } });
    await expect(third).resolves.toMatchObject({ ok: true });
  });

  it('replaces a worker that breaks or hangs, and says so', async () => {
    const client = open();
    const broken = client.ask<'build'>(build);
    workers[0]?.say({ kind: 'broken', id: 1, problem: { code: 'workshop-broken', message: 'It stopped.' } });
    await expect(broken).resolves.toMatchObject({ ok: false, problem: { message: 'It stopped.' } });
    expect(workers[0]?.ended).toBe(true);
    const hanging = client.ask<'build'>(build);
    vi.advanceTimersByTime(130_000);
    await expect(hanging).resolves.toMatchObject({ ok: false, problem: { code: 'workshop-broken' } });
    const next = client.ask<'build'>(build);
    expect(workers).toHaveLength(3);
    workers[2]?.say({ kind: 'answer', id: 3, result: { ok: true, value: built } });
    await expect(next).resolves.toMatchObject({ ok: true });
  });

  it('tells the worker where the model file of an exercise is', () => {
    const exercise = {
      ...blankExercise('1', 'x', 'mm'),
      model: { sha256: 'ab', fileName: 'a.step', unit: 'mm' },
    } as const;
    void open().ask<'read'>({ kind: 'read', exercise });
    expect(workers[0]?.sent[0]).toMatchObject({ modelUrl: '/models/ab', request: { kind: 'read' } });
  });

  it('passes on how far long work has come', async () => {
    const client = open();
    const progress: string[] = [];
    const judged = client.ask<'judge'>({ kind: 'judge', exercise: blankExercise('1', 'x', 'mm') }, (done, total) =>
      progress.push(`${String(done)}/${String(total)}`),
    );
    workers[0]?.say({ kind: 'progress', id: 1, done: 2, total: 6 });
    workers[0]?.say({ kind: 'answer', id: 1, result: { ok: true, value: [] } });
    await judged;
    expect(progress).toEqual(['2/6']);
  });
});
