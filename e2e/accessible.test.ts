import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

import { By, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR, OTHER_INSTRUCTOR, STUDENT_PASSWORD } from '#demo/course';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

let driver: WebDriver;
let page: Page;
keepFailures(() => page);
beforeAll(async () => {
  driver = await openBrowser();
  page = new Page(driver, ownServer());
});
afterAll(() => driver.quit());

/** Faults that the accessibility checker finds on the page as it stands. */
async function faults(): Promise<string[]> {
  await page.settle();
  await driver.executeScript(axe);
  return driver.executeAsyncScript(`
    const done = arguments[arguments.length - 1];
    axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa'] }).then((result) =>
      done(result.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.target.join(' ')).slice(0, 3).join(' | '))));
  `);
}

async function inBothThemes(): Promise<string[]> {
  const found: string[] = [];
  for (const theme of ['light', 'dark']) {
    await driver.executeScript(`document.documentElement.dataset.theme = ${JSON.stringify(theme)}`);
    found.push(...(await faults()).map((fault) => `${theme} ${fault}`));
  }
  return found;
}

describe('no faults of accessibility, in light and dark, on', () => {
  it('the sign-in page', async () => {
    await page.open('/');
    await page.field('Password');
    expect(await inBothThemes()).toEqual([]);
  });

  it('the pages of the instructor', async () => {
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    for (const [path, ready] of [
      ['/desk', '[data-testid="needs"]'],
      ['/exercises', 'img'],
      ['/exercises/1', '[data-testid="viewer"] canvas'],
      ['/exercises/1/edit', '[data-testid="viewer"] canvas'],
      ['/assignments/1', '[data-testid="attempts"]'],
      ['/assignments/2/questions', '[data-testid="question"]'],
      ['/attempts/1', '[data-testid="report-lines"]'],
      ['/grades', '[data-testid="gradebook"]'],
      ['/people', 'a[href="/people/sections/1"]'],
      ['/people/sections/1', 'table'],
      ['/exercises/schedule', '[data-testid="series"]'],
      ['/grades/1/insight', '[data-testid="exercise-figures"]'],
      ['/grades/1/wall', 'article'],
    ] as const) {
      await page.open(path);
      await page.find(By.css(ready));
      expect(await inBothThemes(), path).toEqual([]);
    }
    await page.signOut();
  });

  it('the pages of a student', async () => {
    await page.signIn('ansel', STUDENT_PASSWORD);
    for (const [path, ready] of [
      ['/my', 'a[href="/my/2"]'],
      ['/my/2', '[data-sheet] svg'],
      ['/my/attempts/1', '[data-testid="report-lines"]'],
      ['/my/2/measure', '[data-testid="measured-file"]'],
      ['/my/2/read', '[data-testid="question"]'],
      ['/my/2/round', '[data-testid="round"] input'],
      ['/my/2/sizes', '[data-sheet] svg'],
      ['/my/2/build', '[data-sheet] svg'],
      ['/my/1/worked', '[data-testid="worked-steps"]'],
      ['/my/progress', '[data-testid="own-attempts"]'],
    ] as const) {
      await page.open(path);
      await page.find(By.css(ready));
      expect(await inBothThemes(), path).toEqual([]);
    }
    await page.signOut();
  });

  it('the pages of whoever looks after the service', async () => {
    await page.signIn(OTHER_INSTRUCTOR.login, OTHER_INSTRUCTOR.password);
    for (const path of ['/service', '/service/school-site']) {
      await page.open(path);
      await page.find(By.css('h1'));
      expect(await inBothThemes(), path).toEqual([]);
    }
  });
});

it('a student’s pages fit a phone', async () => {
  const phone = await openBrowser({ width: 390, height: 844 });
  try {
    const small = new Page(phone, ownServer());
    await small.signIn('bettina', STUDENT_PASSWORD);
    for (const path of [
      '/my',
      '/my/2',
      '/my/2/measure',
      '/my/2/read',
      '/my/2/build',
      '/my/2/round',
      '/my/2/sizes',
      '/my/1/worked',
      '/my/progress',
      '/my/attempts/2',
    ]) {
      await small.open(path);
      await small.find(By.css('h1'));
      await small.settle();
      const wide = await phone.executeScript<number>('return document.documentElement.scrollWidth');
      expect(wide, path).toBeLessThanOrEqual(390);
    }
  } finally {
    await phone.quit();
  }
});
