import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';

import { afterEach } from 'vitest';

import type { Page } from './pages.ts';

const FAILED_FOLDER = '.cache/failed';

/** After a test that failed, what its page showed and said is kept: `.cache/failed/<test>.png` and `.txt`. */
export function keepFailures(pageOf: () => Page): void {
  afterEach(async ({ task }) => {
    if (task.result?.state !== 'fail') return;
    const at = path.join(FAILED_FOLDER, task.name.replace(/[^\p{L}\d]+/gu, '-').slice(0, 80));
    mkdirSync(FAILED_FOLDER, { recursive: true });
    const { driver } = pageOf();
    writeFileSync(`${at}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
    writeFileSync(`${at}.txt`, `${await driver.getCurrentUrl()}\n\n${await pageOf().text()}\n`);
    process.stderr.write(`What the page showed is in ${at}.png and .txt\n`);
  });
}
