import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';

import type { QueueState } from '#api';
import type { Stage } from '#core/model';
import type { Runner } from '#server/jobs';

export interface Metrics {
  /** How long a stage of grading took, and which refusal an attempt met. */
  stage(stage: Stage, seconds: number): void;
  refused(code: string): void;
  request(route: string, method: string, status: number, seconds: number): void;
  /** As Prometheus reads it. */
  text(): Promise<string>;
  readonly contentType: string;
}

export interface MetricsParts {
  readonly runner: Pick<Runner, 'width' | 'ended'>;
  readonly queue: () => QueueState;
  readonly now: () => Date;
}

const SECONDS = [0.01, 0.03, 0.1, 0.3, 1, 3, 10, 30, 60];

/** Figures of this process in a registry of their own. Names and addresses of people are in none of them. */
export function createMetrics({ runner, queue, now }: MetricsParts): Metrics {
  const registry = new Registry();
  const registers = [registry];
  collectDefaultMetrics({ register: registry });
  const gauge = (name: string, help: string, read: () => number): void => {
    new Gauge({
      name,
      help,
      registers,
      collect() {
        this.set(read());
      },
    });
  };
  gauge('zorvet_queue_waiting', 'Attempts that wait to be measured', () => queue().waiting);
  gauge('zorvet_queue_running', 'Attempts that are being measured', () => queue().running);
  gauge('zorvet_queue_oldest_seconds', 'How long the oldest attempt has waited', () => {
    const { oldestAt } = queue();
    return oldestAt === null ? 0 : Math.max(0, (now().getTime() - Date.parse(oldestAt)) / 1000);
  });
  gauge('zorvet_queue_paused', 'Whether nothing can be written, so that nothing is measured', () =>
    queue().isPaused ? 1 : 0,
  );
  gauge('zorvet_workers', 'Workers that measure', () => runner.width);
  const ended = (reason: 'crashed' | 'timedOut' | 'replaced', words: string): void => {
    new Counter({
      name: `zorvet_workers_${words}_total`,
      help: `Workers that were ${words.replaceAll('_', ' ')}`,
      registers,
      collect() {
        this.reset();
        this.inc(runner.ended()[reason]);
      },
    });
  };
  ended('crashed', 'crashed');
  ended('timedOut', 'timed_out');
  ended('replaced', 'replaced');
  const stages = new Histogram({
    name: 'zorvet_grading_seconds',
    help: 'Time of each stage of grading',
    labelNames: ['stage'],
    buckets: SECONDS,
    registers,
  });
  const refusals = new Counter({
    name: 'zorvet_refusals_total',
    help: 'Attempts that could not be measured',
    labelNames: ['code'],
    registers,
  });
  const requests = new Histogram({
    name: 'zorvet_request_seconds',
    help: 'Time of requests',
    labelNames: ['route', 'method', 'status'],
    buckets: SECONDS,
    registers,
  });
  return {
    stage: (stage, seconds) => {
      stages.observe({ stage }, seconds);
    },
    refused: (code) => {
      refusals.inc({ code });
    },
    request: (route, method, status, seconds) => {
      requests.observe({ route, method, status }, seconds);
    },
    text: () => registry.metrics(),
    contentType: registry.contentType,
  };
}
