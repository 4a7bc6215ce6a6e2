/** A student measures a model in the page before anything is handed in. */
import { By, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { STUDENT_PASSWORD } from '#demo/course';
import { pumpCoverExercise } from '#demo/exercises';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { model, textFile } from './models.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);

/** A block of 20 x 30 x 40, as the text of its twelve triangles. */
function block(): string {
  const [x, y, z] = [20, 30, 40];
  const sides: readonly (readonly (readonly [number, number, number])[])[] = [
    [
      [0, 0, 0],
      [0, y, 0],
      [x, y, 0],
      [x, 0, 0],
    ],
    [
      [0, 0, z],
      [x, 0, z],
      [x, y, z],
      [0, y, z],
    ],
    [
      [0, 0, 0],
      [x, 0, 0],
      [x, 0, z],
      [0, 0, z],
    ],
    [
      [x, 0, 0],
      [x, y, 0],
      [x, y, z],
      [x, 0, z],
    ],
    [
      [x, y, 0],
      [0, y, 0],
      [0, y, z],
      [x, y, z],
    ],
    [
      [0, y, 0],
      [0, 0, 0],
      [0, 0, z],
      [0, y, z],
    ],
  ];
  const facets = sides.flatMap(([a = [0, 0, 0], b = a, c = a, d = a]) => [
    [a, b, c],
    [a, c, d],
  ]);
  const lines = facets.map(
    (corners) =>
      `facet normal 0 0 0\nouter loop\n${corners.map((corner) => `vertex ${corner.join(' ')}`).join('\n')}\nendloop\nendfacet`,
  );
  return `solid block\n${lines.join('\n')}\nendsolid block\n`;
}

const choose = async (file: string): Promise<void> =>
  (await page.find(By.css('[data-testid="measured-file"]'))).sendKeys(file);
const pickMiddleFrom = async (view: string): Promise<void> => {
  await page.press(view);
  await page.settle();
  await driver
    .actions()
    .move({ origin: await page.canvas() })
    .click()
    .perform();
};

afterAll(() => driver.quit());

describe('practice measuring', () => {
  beforeAll(async () => {
    driver = await openBrowser();
    page = new Page(driver, ownServer());
    await page.signIn('hanne', STUDENT_PASSWORD);
    await page.follow('Bilge-pump cover');
    await page.follow('Measure your model first');
    await page.shows('Nothing is handed in here');
  });

  it('says what a file is that is no model, and what to do', async () => {
    await choose(textFile('notes.step', 'My notes'));
    await page.shows('notes.step: ');
    expect(await page.text()).toMatch(/not a model file|not a STEP file/);
  });

  it('reads a block of triangles as closed formulas have it', async () => {
    await choose(textFile('block.stl', block()));
    await page.find(By.css('[data-testid="whole-model"]'));
    const whole = await (await page.find(By.css('[data-testid="whole-model"]'))).getText();
    // 20 x 30 x 40 = 24000; 2 (20 x 30 + 30 x 40 + 20 x 40) = 5200; the middle.
    expect(whole).toContain('1, closed');
    expect(whole).toContain('20.000 x 30.000 x 40.000 mm');
    expect(whole).toContain('24000.00 mm');
    expect(whole).toContain('5200.00 mm');
    expect(whole).toContain('10.000 / 15.000 / 20.000 mm');
  });

  it('measures between two picked faces, and lets go', async () => {
    await pickMiddleFrom('Top');
    await page.shows('First: flat face');
    await page.shows('600.000 mm');
    await pickMiddleFrom('Bottom');
    await page.shows('Face to face, square to both');
    await page.shows('40.000 mm');
    await page.press('Let go');
    await page.shows('Pick a face or an edge of the part');
    await pickMiddleFrom('Top');
    await pickMiddleFrom('Front');
    await page.shows('Angle between the faces');
    await page.shows('90.000°');
  });

  it('measures an edge, and from it to a face', async () => {
    await page.press('Let go');
    await page.press('Top');
    await page.settle();
    const canvas = await page.canvas();
    const { width, height } = await canvas.getRect();
    // The view fits the ball around the part, half of the diagonal of 20 x 30 x 40, with a margin of 6 %.
    const pixelsPerMm = Math.min(width, height) / 2 / (1.06 * Math.hypot(10, 15, 20));
    const beside = Math.round(10 * pixelsPerMm);
    await driver.actions().move({ origin: canvas, x: beside, y: 0 }).click().perform();
    await page.shows('First: straight edge');
    await page.shows('30.000 mm');
    await pickMiddleFrom('Left');
    await page.shows('Edge to face');
    await page.shows('20.000 mm');
  });

  it('takes the numbers of a file without unit as the student says', async () => {
    await page.choose('Numbers of the file are in', 'in');
    // An inch is 25.4 mm: 20, 30 and 40 in.
    await page.shows('508.000 x 762.000 x 1016.000 mm');
  });

  it('reads a STEP file with its features, and hands nothing in', async () => {
    await choose((await model(pumpCoverExercise, { kind: 'none' }, 'cover.step')).file);
    await page.shows('What was found on it');
    await page.shows('hole');
    await page.follow('SB-104 Bilge-pump cover');
    await page.shows('attempt 1 of 2');
  });
});

describe('before a hand-in', () => {
  const choosing = async (file: string): Promise<void> =>
    (await page.find(By.css('[data-testid="file"]'))).sendKeys(file);

  it('the page says of a file what would be refused, and that it is fine', async () => {
    await choosing(textFile('notes.stl', 'My notes'));
    await page.shows('It would be refused: ');
    const { file, typed } = await model(pumpCoverExercise, { kind: 'none' }, 'cover again.step');
    await choosing(file);
    await page.shows('one closed body, nothing to remark');
    // The mass of another file, as it stays in the field.
    await page.fill('Mass', '1234');
    await page.shows('Did the typed number come from another one?');
    const mass = typed.find(({ name }) => name === 'mass');
    await page.fill('Mass', mass?.text ?? '');
    await page.shows('one closed body, nothing to remark');
  });
});
