/** Times the review of a running demo in the browser: `node dist/node/next-student.js [address]`. */
import { By } from 'selenium-webdriver';

import { INSTRUCTOR } from '#demo/course';

import { openBrowser } from './browser.ts';
import { Page } from './pages.ts';

const STUDENTS = 15;
const driver = await openBrowser();
const page = new Page(driver, process.argv[2] ?? 'http://127.0.0.1:4310');

/** From the key to the next student's checks, model and causes on the screen, ms, taken in the page itself. */
const NEXT = `
  const [done] = arguments;
  const name = () => document.querySelector('dl dd')?.textContent;
  const before = name();
  const start = performance.now();
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'n', bubbles: true }));
  const look = () => {
    const canvas = document.querySelector('[data-testid="viewer"] canvas');
    const shown = name() !== before && canvas !== null && document.querySelector('[data-testid="report-lines"]');
    // Two more frames, in which the part is drawn.
    if (shown) requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - start)));
    else if (performance.now() - start > 10000) done(-1);
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
`;
const medianOf = (times: readonly number[]): number =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? 0;

try {
  await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  for (const exercise of ['SB-202', 'SB-101']) {
    await page.open('/desk');
    await page.toAssignment(exercise);
    await page.find(By.css('[data-testid="attempts"]'));
    const links = await driver.findElements(By.css('[data-testid="attempts"] a'));
    const rows = await Promise.all(
      links.map(async (link) => ({ name: await link.getText(), address: await link.getAttribute('href') })),
    );
    // The last of them is the first by name, where the way from student to student begins.
    const addresses = rows
      .sort((a, b) => b.name.localeCompare(a.name))
      .slice(-5)
      .map(({ address }) => address);
    // The baseline: the page of a student loaded from nothing, as by its address.
    const cold: number[] = [];
    for (const address of addresses) {
      const start = performance.now();
      await driver.get(address ?? '');
      await page.canvas();
      cold.push(performance.now() - start);
    }
    const first = await driver.executeScript<string | null>(
      'return document.querySelector("dl dd")?.textContent ?? null',
    );
    const times: number[] = [];
    for (let i = 0; i < STUDENTS; i++) {
      // A glance at the student; meanwhile the next one is loaded.
      await page.settle();
      await page.settle();
      const time = await driver.executeAsyncScript<number>(NEXT);
      if (time < 0) break;
      times.push(time);
    }
    const [warm, worst] = [medianOf(times), Math.max(...times)];
    process.stdout.write(
      `${exercise}, from ${first ?? '?'}: next student, median of ${String(times.length)} ${String(Math.round(warm))} ms, longest ${String(Math.round(worst))} ms; by its address ${String(Math.round(medianOf(cold)))} ms, ${(medianOf(cold) / warm).toFixed(1)} times as long\n`,
    );
  }
} finally {
  await driver.quit();
}
