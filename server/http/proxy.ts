/** Where a request comes from, and under which address the server is known, also behind a proxy. */
import { BlockList, isIP } from 'node:net';

import type { Context } from 'hono';

/** How the server is reached from outside. */
export interface Front {
  /** The address that people type, such as "https://zorvet.saltmarsh.example"; null where they reach the server itself. */
  readonly publicUrl: URL | null;
  /** Proxies whose word about the client is taken. */
  readonly trusted: BlockList;
}

/** Nobody is in front of the server. */
export const NO_FRONT: Front = { publicUrl: null, trusted: new BlockList() };

/** What is wrong with a setting, as a sentence. */
export class BadSetting extends Error {}

const familyOf = (address: string): 'ipv4' | 'ipv6' => (isIP(address) === 6 ? 'ipv6' : 'ipv4');

/** Reads the settings of the front: an address with http or https, and addresses or networks ("10.0.0.0/8") with commas. */
export function frontOf(publicUrl: string | undefined, proxies: string | undefined): Front {
  const trusted = new BlockList();
  for (const text of (proxies ?? '')
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean)) {
    const [address = '', bits] = text.split('/');
    const most = isIP(address) === 6 ? 128 : 32;
    if (isIP(address) === 0 || (bits !== undefined && !(Number(bits) >= 0 && Number(bits) <= most)))
      throw new BadSetting(
        `ZORVET_TRUSTED_PROXIES holds "${text}", which is no address: write "127.0.0.1", or a network such as "10.0.0.0/8".`,
      );
    if (bits === undefined) trusted.addAddress(address, familyOf(address));
    else trusted.addSubnet(address, Number(bits), familyOf(address));
  }
  if (publicUrl === undefined || publicUrl.trim() === '') return { publicUrl: null, trusted };
  const url = URL.canParse(publicUrl) ? new URL(publicUrl) : null;
  if (url === null || !/^https?:$/.test(url.protocol) || url.pathname !== '/')
    throw new BadSetting(
      `ZORVET_PUBLIC_URL is "${publicUrl}", which is no address of a server: write "https://zorvet.school.example".`,
    );
  return { publicUrl: url, trusted };
}

/** An address as it is compared: those of the old kind that come as new ones, without their prefix. */
const plain = (address: string): string => address.trim().replace(/^::ffff:/i, '');

/**
 * The address of whoever made a request. What a proxy says of it counts only where the proxy is trusted: of the list that
 * they hand on, the last one that is not one of them.
 */
export function clientAddress(c: Context, { trusted }: Front): string {
  const incoming = (c.env as { incoming?: { socket?: { remoteAddress?: string } } } | undefined)?.incoming;
  const isTrusted = (address: string): boolean => isIP(address) !== 0 && trusted.check(address, familyOf(address));
  const chain = [...(c.req.header('x-forwarded-for') ?? '').split(','), incoming?.socket?.remoteAddress ?? 'local']
    .map(plain)
    .filter(Boolean);
  return chain.findLast((address, i) => i === 0 || !isTrusted(address)) ?? 'local';
}
