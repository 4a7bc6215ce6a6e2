import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';

import { serve } from '@hono/node-server';
import { Hono } from 'hono';
import { html } from 'hono/html';
import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';

import { plainPage } from '#demo/plain-page';

export interface ReceivedLetter {
  readonly to: string;
  readonly from: string;
  readonly subject: string;
  readonly text: string;
  readonly at: Date;
}

export interface Mailbox {
  /** Where mail is handed over. */
  readonly smtpUrl: string;
  /** Where it is read. */
  readonly pageUrl: string;
  /** What came, the newest first. */
  letters(): readonly ReceivedLetter[];
  close(): Promise<void>;
}

export interface MailboxPorts {
  /** 0 for any that are free. */
  readonly smtp: number;
  readonly page: number;
}

const HOST = '127.0.0.1';
/** Older letters are thrown away. */
const MOST_LETTERS = 500;

async function letterOf(stream: Readable): Promise<ReceivedLetter> {
  const mail = await PostalMime.parse(await buffer(stream));
  const address = (
    one: { readonly name?: string | undefined; readonly address?: string | undefined } | undefined,
  ): string => (one === undefined ? '' : `${one.name ?? ''} <${one.address ?? ''}>`.trim());
  return {
    to: address(mail.to?.[0]),
    from: address(mail.from),
    subject: mail.subject ?? '',
    text: mail.text ?? '',
    at: new Date(),
  };
}

const page = (letters: readonly ReceivedLetter[]) =>
  plainPage(
    'Mailbox',
    "Stand-in of a school's mail: what Zorvet has sent, the newest first. Nothing leaves this machine.",
    html`${letters.length === 0 ? html`<p>Nothing yet.</p>` : ''}
    ${letters.map(
      ({ to, subject, text, at }) =>
        html`<article>
          <h2>${subject}</h2>
          <p>To ${to}, ${at.toISOString()}</p>
          <pre>${text}</pre>
        </article>`,
    )}`,
  );

/** Starts the mailbox on this machine. Throws where a port is taken. */
export async function serveMailbox({ smtp, page: pagePort }: MailboxPorts): Promise<Mailbox> {
  const received: ReceivedLetter[] = [];
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData(stream, _session, done) {
      letterOf(stream).then(
        (letter) => {
          received.unshift(letter);
          received.length = Math.min(received.length, MOST_LETTERS);
          done();
        },
        (error: unknown) => {
          done(error instanceof Error ? error : new Error(String(error)));
        },
      );
    },
  });
  server.listen(smtp, HOST);
  await once(server.server, 'listening');
  const app = new Hono().get('/', (c) => c.html(page(received)));
  const pages = serve({ fetch: app.fetch, port: pagePort, hostname: HOST });
  await once(pages, 'listening');
  const portOf = (address: AddressInfo | string | null): string => String((address as AddressInfo).port);
  return {
    smtpUrl: `smtp://${HOST}:${portOf(server.server.address())}`,
    pageUrl: `http://localhost:${portOf(pages.address())}`,
    letters: () => [...received],
    close: () =>
      new Promise((resolve) => {
        pages.close();
        server.close(() => {
          resolve();
        });
      }),
  };
}
