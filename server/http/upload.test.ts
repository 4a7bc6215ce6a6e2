import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { describe, expect, it, onTestFinished } from 'vitest';

import { openDatabase } from '#server/db';
import { createFileStore, hashOf } from '#server/files';
import { receiveForm } from '#server/http';

const LIMITS = {
  fileBytes: 1024 * 1024,
  fieldBytes: 1000,
  tooLarge: { code: 'file-too-large', message: 'Too large.' },
} as const;

function store() {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-'));
  const db = openDatabase(':memory:');
  onTestFinished(() => {
    db.close();
    rmSync(folder, { recursive: true, force: true });
  });
  const files = createFileStore(folder, db, () => new Date());
  return { files, incoming: () => readdirSync(path.join(folder, 'incoming')) };
}

function formOf(file: Uint8Array | null, fields: Readonly<Record<string, string>> = {}): Request {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  if (file !== null) form.append('file', new File([Uint8Array.from(file)], 'Teil 1.step'));
  return new Request('http://localhost/', { method: 'POST', body: form });
}

const codeOf = async (request: Request, files: ReturnType<typeof store>['files']): Promise<string> => {
  const received = await receiveForm(request, files, LIMITS);
  return received.ok ? '' : received.problem.code;
};

describe('a form with a file', () => {
  it('is on disk before it is kept, and only then under the name of its content', async () => {
    const { files, incoming } = store();
    const content = new Uint8Array(300_000).map((_, i) => i % 251);
    const received = await receiveForm(formOf(content, { unit: 'mm' }), files, LIMITS);
    if (!received.ok || received.value.file === null) throw new Error('no file');
    const { fields, file } = received.value;
    expect([fields, file.fileName, file.incoming.sizeBytes]).toEqual([{ unit: 'mm' }, 'Teil 1.step', 300_000]);
    expect(incoming()).toHaveLength(1);
    const { sha256 } = await files.keep(file.incoming);
    expect(sha256).toBe(hashOf(content));
    expect(new Uint8Array(await files.read(sha256))).toEqual(content);
    expect(incoming()).toEqual([]);
  });

  it('that is discarded leaves nothing', async () => {
    const { files, incoming } = store();
    const received = await receiveForm(formOf(new Uint8Array(10)), files, LIMITS);
    if (received.ok && received.value.file !== null) await files.discard(received.value.file.incoming);
    expect(incoming()).toEqual([]);
  });

  it('that is too large is given up as it comes, and leaves nothing', async () => {
    const { files, incoming } = store();
    expect(await codeOf(formOf(new Uint8Array(3_000_000)), files)).toBe('file-too-large');
    expect(await codeOf(formOf(null, { log: 'x'.repeat(5000) }), files)).toBe('file-too-large');
    expect(incoming()).toEqual([]);
  });

  it('that breaks off, or is none, is refused and leaves nothing', async () => {
    const { files, incoming } = store();
    const whole = formOf(new Uint8Array(100_000));
    const type = whole.headers.get('content-type') ?? '';
    const half = (await whole.arrayBuffer()).slice(0, 60_000);
    const broken = (body: BodyInit, contentType = type) =>
      new Request('http://localhost/', { method: 'POST', headers: { 'content-type': contentType }, body });
    expect(await codeOf(broken(half), files)).toBe('bad-input');
    expect(await codeOf(broken('{}', 'application/json'), files)).toBe('bad-input');
    expect(await codeOf(broken('nonsense', 'multipart/form-data'), files)).toBe('bad-input');
    expect(incoming()).toEqual([]);
  });

  it('whose sender goes away in the middle is refused and leaves nothing', async () => {
    const { files, incoming } = store();
    const whole = formOf(new Uint8Array(100_000));
    const type = whole.headers.get('content-type') ?? '';
    const bytes = new Uint8Array(await whole.arrayBuffer());
    const body = new ReadableStream<Uint8Array>({
      start: (controller) => {
        controller.enqueue(bytes.slice(0, 50_000));
      },
      pull: (controller) => {
        controller.error(new Error('connection reset'));
      },
    });
    const request = new Request('http://localhost/', {
      method: 'POST',
      headers: { 'content-type': type },
      body,
      // What a stream needs in Node.
      ...{ duplex: 'half' },
    });
    expect(await codeOf(request, files)).toBe('bad-input');
    expect(incoming()).toEqual([]);
  });
});
