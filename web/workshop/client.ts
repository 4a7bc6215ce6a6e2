import { refuse, type Result } from '#core/problem';

import type { Answers, FromWorkshop, Request, ToWorkshop } from './protocol.ts';

type Settle = (result: Result<unknown>) => void;

interface Waiting {
  readonly request: Request;
  readonly settle: Settle;
  readonly onProgress: ((done: number, total: number) => void) | undefined;
}

/** An answer that nobody waits for any more, since a newer request of the same kind took its place. */
export const SUPERSEDED = 'superseded';

const TIME_LIMIT_MS = 120_000;

/**
 * The workshop as the page sees it. One request is with the worker at a time; of those that wait, only the newest of
 * each kind is kept, so that typing is never slowed down. A worker that breaks or hangs is replaced.
 */
export class WorkshopClient {
  private readonly start: () => Worker;
  private readonly modelUrl: (sha256: string) => string;
  private worker: Worker | null = null;
  private readonly waiting = new Map<Request['kind'], Waiting>();
  private current: (Waiting & { readonly id: number; timer: number }) | null = null;
  private lastId = 0;

  constructor(start: () => Worker, modelUrl: (sha256: string) => string) {
    this.start = start;
    this.modelUrl = modelUrl;
  }

  ask<K extends Request['kind']>(
    request: Extract<Request, { kind: K }>,
    onProgress?: (done: number, total: number) => void,
  ): Promise<Result<Answers[K]>> {
    return new Promise((resolve) => {
      this.waiting.get(request.kind)?.settle(refuse(SUPERSEDED, 'A newer request took the place of this one.'));
      this.waiting.set(request.kind, {
        request,
        settle: (result) => {
          resolve(result as Result<Answers[K]>);
        },
        onProgress,
      });
      this.next();
    });
  }

  /** Has the kernel loaded before anything is asked. */
  warm(): void {
    this.running();
  }

  close(): void {
    this.worker?.terminate();
    this.worker = null;
    this.waiting.clear();
    if (this.current) clearTimeout(this.current.timer);
    this.current = null;
  }

  private next(): void {
    if (this.current !== null) return;
    const [first] = this.waiting;
    if (first === undefined) return;
    const [kind, waiting] = first;
    this.waiting.delete(kind);
    const id = ++this.lastId;
    const timer = this.clock();
    this.current = { ...waiting, id, timer };
    const { request } = waiting;
    const model = 'exercise' in request ? request.exercise.model : undefined;
    const modelUrl = model === undefined ? null : this.modelUrl(model.sha256);
    this.running().postMessage({ id, request, modelUrl } satisfies ToWorkshop);
  }

  /** What makes no progress for so long hangs. */
  private clock(): number {
    return window.setTimeout(() => {
      this.replace('The preview took too long and was started again. Make the last step simpler.');
    }, TIME_LIMIT_MS);
  }

  private running(): Worker {
    if (this.worker !== null) return this.worker;
    const worker = this.start();
    worker.onmessage = (event: MessageEvent<FromWorkshop>) => {
      this.receive(event.data);
    };
    worker.onerror = () => {
      this.replace('The preview could not be started. Load the page again.');
    };
    this.worker = worker;
    return worker;
  }

  private receive(message: FromWorkshop): void {
    if (message.kind === 'ready') return;
    if (message.id !== this.current?.id) return;
    if (message.kind === 'progress') {
      clearTimeout(this.current.timer);
      this.current.timer = this.clock();
      this.current.onProgress?.(message.done, message.total);
    } else if (message.kind === 'broken') this.replace(message.problem.message);
    else this.settle(message.result);
  }

  private settle(result: Result<unknown>): void {
    const { current } = this;
    if (current === null) return;
    clearTimeout(current.timer);
    this.current = null;
    current.settle(result);
    this.next();
  }

  private replace(message: string): void {
    this.worker?.terminate();
    this.worker = null;
    this.settle(refuse('workshop-broken', message));
  }
}

const startWorker = (): Worker => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });

/** A workshop that reads model files which are nobody's yet. */
export const openMeasuring = (): WorkshopClient => new WorkshopClient(startWorker, () => '');

/** The workshop of one exercise. */
export const openWorkshop = (exerciseId: number): WorkshopClient =>
  new WorkshopClient(startWorker, (sha256) => `/api/exercises/${String(exerciseId)}/files/${sha256}`);
