import { describe, expect, it } from 'vitest';

import type { ServiceState } from '#api';

import { openSchool, REFUSED, type School } from '../testing/fixture.ts';

/** Asks from an address, as a program does that watches the server. */
const ask = (school: School, path: string, address: string, headers: Record<string, string> = {}) =>
  school.app.request(path, { headers }, { incoming: { socket: { remoteAddress: address } } });

describe('the figures of the service', () => {
  it('tell whoever keeps it running whether it is alive', async () => {
    const school = await openSchool();
    expect(await (await ask(school, '/healthz', '203.0.113.5')).json()).toMatchObject({ status: 'ok' });
  });

  it('count what was measured and refused, and how long routes take, without a name or number of anybody', async () => {
    const school = await openSchool((content) => (content === 'junk' ? REFUSED : { kind: 'timed-out' }));
    await school.handIn('ansel', school.assignmentId, 'junk');
    await school.handIn('ansel', school.assignmentId, 'endless');
    await school.queue.idle();
    await school.request('ansel', 'GET', '/api/work/1');
    const text = await (await ask(school, '/metrics', '127.0.0.1')).text();
    expect(text).toContain('zorvet_refusals_total{code="not-step"} 1');
    expect(text).toContain('zorvet_refusals_total{code="too-long"} 1');
    expect(text).toContain('zorvet_queue_waiting 0');
    expect(text).toContain('zorvet_grading_seconds_count{stage="measuring"} 2');
    expect(text).toMatch(/zorvet_request_seconds_count\{route="\/api\/work\/:id",method="GET",status="200"\} 1/);
    expect(text).toContain('nodejs_eventloop_lag_p99_seconds');
    expect(text).not.toContain('ansel');
  });

  it('are for the machine itself, and for nobody else', async () => {
    const school = await openSchool();
    expect((await ask(school, '/metrics', '::1')).status).toBe(200);
    expect((await ask(school, '/metrics', '203.0.113.5')).status).toBe(404);
    expect((await ask(school, '/metrics', '203.0.113.5', { 'x-forwarded-for': '127.0.0.1' })).status).toBe(404);
    expect((await ask(school, '/metrics', '203.0.113.5', { authorization: 'Bearer null' })).status).toBe(404);
  });

  it('are a page of the administrator, who sees how many people there are and no grades', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const state = (await (await school.request('bodil', 'GET', '/api/service')).json()) as ServiceState;
    expect(state).toMatchObject({
      queue: { waiting: 0, running: 0, oldestAt: null, isPaused: false },
      people: { accounts: 6, signedIn: 2 },
      backup: null,
    });
    expect(state.disk?.freeBytes).toBeGreaterThan(0);
    expect(state.files.count).toBeGreaterThan(2);
    expect((await school.request('orla', 'GET', '/api/service')).status).toBe(403);
  });
});
