/** Times the editor of a running demo in the browser: `node dist/node/keystroke.js [address]`. */
import { By } from 'selenium-webdriver';

import { INSTRUCTOR } from '#demo/course';

import { openBrowser } from './browser.ts';
import { Page } from './pages.ts';

const ROUNDS = 14;
/** Values of the letter A that all build, by exercise. */
const BASES = { 1: 116, 4: 104, 5: 92, 9: 58, 11: 86 } as const;
const driver = await openBrowser();
const page = new Page(driver, process.argv[2] ?? 'http://127.0.0.1:4310');

/** From typing a value to the figures of the new part, ms, taken in the page itself. */
const TYPE = `
  const [label, value, done] = arguments;
  const input = document.getElementById([...document.querySelectorAll('label')].find((l) => l.textContent === label).htmlFor);
  const figures = document.querySelector('[data-testid="figures"]');
  const before = figures.innerText.split('\\n')[1];
  const start = performance.now();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(input, value);
  input.dispatchEvent(new Event('input', { bubbles: true }));
  const look = () => (figures.innerText.split('\\n')[1] === before ? requestAnimationFrame(look) : done(performance.now() - start));
  requestAnimationFrame(look);
`;

try {
  await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  for (const id of [1, 4, 5, 9, 11] as const) {
    const start = performance.now();
    await page.open(`/exercises/${String(id)}/edit`);
    await page.canvas();
    const opened = performance.now() - start;
    const title = await (await page.find(By.css('h1'))).getText();
    const times: number[] = [];
    for (let i = 0; i < ROUNDS; i++)
      times.push(
        await driver.executeAsyncScript<number>(TYPE, 'Value of A', String(BASES[id] + (i % 2) + (i + 1) / 10)),
      );
    const sorted = times.slice(2).sort((a, b) => a - b);
    process.stdout.write(
      `${title.padEnd(20)} page with part ${String(Math.round(opened))} ms; keystroke to preview, median ${String(Math.round(sorted[Math.floor(sorted.length / 2)] ?? 0))} ms\n`,
    );
    await driver.executeScript('window.onbeforeunload = null');
  }
} finally {
  await driver.quit();
}
