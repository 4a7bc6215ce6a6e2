import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import path from 'node:path';

import { expect, it } from 'vitest';

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
