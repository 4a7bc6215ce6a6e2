import { Hono } from 'hono';
import { describe, expect, it } from 'vitest';

import { BadSetting, clientAddress, frontOf } from '#server/http';

/** The address that a server behind a front sees for a request. */
async function seen(proxies: string, from: string, forwarded?: string): Promise<string> {
  const app = new Hono().get('/', (c) => c.text(clientAddress(c, frontOf(undefined, proxies))));
  const headers: Record<string, string> = forwarded === undefined ? {} : { 'x-forwarded-for': forwarded };
  const answer = await app.request('/', { headers }, { incoming: { socket: { remoteAddress: from } } });
  return answer.text();
}

describe('the address of a client', () => {
  it.each([
    [
      'is that of the connection where nobody is trusted, whatever it says',
      '',
      '203.0.113.5',
      '10.1.1.1',
      '203.0.113.5',
    ],
    ['is what a trusted proxy says', '127.0.0.1', '127.0.0.1', '203.0.113.5', '203.0.113.5'],
    [
      'is the last one before the trusted ones, not what the client put in front',
      '10.0.0.0/8',
      '10.0.0.2',
      '1.2.3.4, 203.0.113.5, 10.0.0.9',
      '203.0.113.5',
    ],
    [
      'is told from one of the old kind in the new notation',
      '127.0.0.1',
      '::ffff:127.0.0.1',
      '203.0.113.5',
      '203.0.113.5',
    ],
    ['is the proxy itself where that says nothing', '::1', '::1', undefined, '::1'],
  ])('%s', async (_what, proxies, from, forwarded, expected) => {
    expect(await seen(proxies, from, forwarded)).toBe(expected);
  });
});

describe('settings of the front', () => {
  it.each([
    [undefined, 'localhost'],
    [undefined, '10.0.0.0/64'],
    ['zorvet.example', undefined],
    ['ftp://zorvet.example', undefined],
    ['https://zorvet.example/course', undefined],
  ])('that are none are refused with a sentence: %s %s', (url, proxies) => {
    expect(() => frontOf(url, proxies)).toThrow(BadSetting);
  });

  it('may be left out', () => {
    expect(frontOf(undefined, undefined).publicUrl).toBeNull();
    expect(frontOf('https://zorvet.example', '').publicUrl?.origin).toBe('https://zorvet.example');
  });
});
