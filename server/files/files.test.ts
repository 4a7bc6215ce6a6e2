import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';

import { expect, it } from 'vitest';

import { createFileStore } from '#server/files';

import { openSchool } from '../testing/fixture.ts';

it('a file is named by its content, stored once, and read back as it was', async () => {
  const { files, db, folder } = await openSchool();
  const content = Buffer.from('ISO-10303-21; and so on');
  const [first, second] = await Promise.all([files.put(content), files.put(content)]);
  expect(first).toEqual(second);
  expect(first.sha256).toBe(createHash('sha256').update(content).digest('hex'));
  expect(await files.read(first.sha256)).toEqual(content);
  expect(db.prepare('SELECT count(*) AS n FROM files WHERE sha256 = ?').get(first.sha256)).toEqual({ n: 1 });
  expect(readdirSync(path.join(folder, 'files', 'incoming'))).toEqual([]);
});

it('nothing but a hash reaches the disk', async () => {
  const { files } = await openSchool();
  expect(() => files.pathOf('../../secret')).toThrow();
});

it('what has a name and no row, as after a crash between the two, is cleared away at the next start', async () => {
  const { files, db, folder } = await openSchool();
  const { sha256 } = await files.put(Buffer.from('known'));
  const stray = 'ab'.repeat(32);
  mkdirSync(path.dirname(files.pathOf(stray)), { recursive: true });
  writeFileSync(files.pathOf(stray), 'stray');
  const next = createFileStore(path.join(folder, 'files'), db, () => new Date());
  expect(existsSync(next.pathOf(stray))).toBe(false);
  expect((await next.read(sha256)).toString()).toBe('known');
});
