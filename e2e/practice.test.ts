/** A student between reading and handing in: builds in the page, goes round the sheet, works out sizes. */
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR, STUDENT_PASSWORD } from '#demo/course';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);

beforeAll(async () => {
  driver = await openBrowser();
  page = new Page(driver, ownServer());
  await page.signIn('bettina', STUDENT_PASSWORD);
});
afterAll(async () => {
  await driver.quit();
});

const toWork = async (): Promise<void> => {
  await page.open('/my');
  await page.follow('Fairlead block');
  await page.find(By.css('[data-sheet] svg'));
};
const figuresSay = async (text: string): Promise<void> => {
  const figures = By.css('[data-testid="figures"]');
  await driver.wait(async () => (await (await page.find(figures)).getText().catch(() => '')).includes(text), 60_000);
};

describe('a student with a sheet', () => {
  it('reads what its words mean, with a picture', async () => {
    await toWork();
    await page.press('Counterbore');
    await page.shows('A wider hole with a flat bottom around a hole');
    await page.find(By.css('svg[aria-label^="Picture: Counterbore"]'));
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await driver.wait(async () => !(await page.text()).includes('A wider hole with a flat bottom'), 60_000);
    // A plain block with a groove has no thread.
    expect(await page.text()).not.toContain('Thread, as');
  });

  it('carries a place from one view to the others by lines through the pointer', async () => {
    await page.press('Projection lines');
    await page.pointAt(120, 80);
    const lines = await page.find(By.css('[data-testid="projection-lines"]'));
    const [across, down] = await lines.findElements(By.css('line'));
    // Of a page of 420 x 297 mm.
    expect(Number.parseFloat((await across?.getAttribute('y1')) ?? '')).toBeCloseTo((100 * 80) / 297, 0);
    expect(Number.parseFloat((await down?.getAttribute('x1')) ?? '')).toBeCloseTo((100 * 120) / 420, 0);
    await page.press('Projection lines');
    await driver.wait(
      async () => (await driver.findElements(By.css('[data-testid="projection-lines"]'))).length === 0,
      60_000,
    );
  });

  it('notes the own time, begun and paused, beside an estimate, and corrects it', async () => {
    await page.press('Begin');
    await page.button('Pause');
    await page.fill('Estimate', '90');
    await page.press('Pause');
    await page.button('Go on');
    await driver.navigate().refresh();
    await page.button('Go on');
    expect(await (await page.field('Estimate')).getAttribute('value')).toBe('90');
    await page.click(By.css('[data-testid="time"] summary'));
    await page.press('Remove entry 1');
    await page.button('Begin');
  });
});

describe('a student who plans before building', () => {
  it('names steps and takes sizes from the sheet, and hears what speaks against the order', async () => {
    await toWork();
    await page.follow('Plan how to build it');
    await page.fill('Where the origin goes', 'Middle of the underside');
    await page.press('Add a step');
    await page.fill('What it makes', 'Keel groove');
    await (await page.field('Operation')).findElement(By.xpath('option[.="Extrude, removing"]')).click();
    await page.shows('Step 1 (Keel groove) has no material to work on yet');
    await page.shows('takes no size of the sheet yet');
    await page.press('Add a step');
    await page.fill('What it makes', 'Block');
    await page.shows('In no step yet');
    const [size] = await driver.findElements(By.css('[data-testid="planned-step"] button[aria-pressed]'));
    await size?.click();
    await page.find(By.css('[data-testid="planned-step"] button[aria-pressed="true"]'));
  });

  it('puts them in another order by the keyboard, and the remark is gone', async () => {
    const handle = await page.find(By.css('[aria-label="Move step 2"]'));
    await handle.sendKeys(Key.SPACE);
    await page.find(By.css('[aria-label="Move step 2"][aria-pressed="true"]'));
    await driver.actions().sendKeys(Key.ARROW_UP).perform();
    await page.shows('Place 1 of 2.');
    await driver.actions().sendKeys(Key.SPACE).perform();
    await driver.wait(async () => !(await page.text()).includes('has no material to work on yet'), 60_000);
  });

  it('gives a step its numbers, and the part grows', async () => {
    await page.press('Give it its numbers');
    await figuresSay('in³');
    await page.click(By.xpath('//button[@role="tab"][.="Steps and order"]'));
    await page.shows('The part after all steps with numbers');
    await page.find(By.css('[data-testid="growing"] canvas'));
  });

  it('finds it again', async () => {
    await page.shows('Saved');
    await toWork();
    await page.follow('Plan how to build it');
    await page.shows('2 steps, 1 with numbers');
    expect(await (await page.field('Where the origin goes')).getAttribute('value')).toBe('Middle of the underside');
  });
});

describe('a student without a modeling program', () => {
  it('builds the part in the page, with the letters of the sheet, and finds it as it was left', async () => {
    await toWork();
    await page.follow('Build the part here');
    await page.shows('The part is empty');
    expect(await (await page.field('Value of A')).getAttribute('value')).toBe('3.500');
    // A model file is no way to build here.
    expect(await page.text()).not.toContain('model file');
    await page.addStep('block');
    await page.type('Width', 'A');
    await page.type('Height', 'B');
    await page.type('Depth', 'C');
    // 3.5 x 1.875 x 1.625 = 10.6641
    await figuresSay('10.66 in³');
    await driver.wait(
      async () => (await (await page.find(By.css('[data-testid="saving"]'))).getText()).startsWith('Saved'),
      30_000,
    );
    await driver.navigate().refresh();
    await figuresSay('10.66 in³');
  });

  it('hands it in with its steps, and it is measured like every file', async () => {
    await page.shows('The part is handed in as it stands');
    await page.press('Hand in');
    await page.shows('Measured: ');
    await page.follow('Read the report');
    await page.find(By.css('[data-testid="report-lines"]'));
    await page.shows('SB-102 Fairlead block.step');
    // The block has the length, width and height of the sheet, and nothing of what is cut from it.
    const lines = await (await page.find(By.css('[data-testid="report-lines"]'))).getText();
    expect(lines).toMatch(/\bLength\s+right\s+Width\s+right\s+Height\s+right\b/);
    expect(lines).toMatch(/\bGroove width\s+missing\b/);
  });

  it('is told why a part that cannot be built is not handed in, and keeps the attempt', async () => {
    await toWork();
    const before = /(\d+) attempts? left/.exec(await page.text())?.[1];
    await page.follow('Build the part here');
    await page.addStep('fillet');
    await page.type('Radius', '9');
    await page.press('Hand in');
    await page.find(By.xpath('//form//*[@role="alert"]'));
    await toWork();
    expect(/(\d+) attempts? left/.exec(await page.text())?.[1]).toBe(before);
  });
});

describe('going round the sheet', () => {
  it('ticks off each dimension with what was read, and says what is behind a difference', async () => {
    await toWork();
    await page.follow('Go round the sheet');
    await page.find(By.css('[data-testid="round"]'));
    const read = async (checkId: string, text: string): Promise<void> => {
      const input = await page.find(By.id(`round-${checkId}`));
      await input.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
    };
    await read('length', '3 1/2');
    await page.shows('1 of 13 agree');
    await read('eye-diameter', '.375');
    await page.shows('That is half of what the sheet says.');
    await read('width', '1,875');
    await page.shows('2 of 13 agree, 1 differs, 10 open.');
    await driver.navigate().refresh();
    await page.shows('2 of 13 agree, 1 differs, 10 open.');
  });
});

describe('reading practice', () => {
  it('asks, says why, brings what was wrong once more, and comes to an end', async () => {
    await toWork();
    await page.follow('Practice reading the sheet');
    await page.find(By.css('[data-testid="question"]'));
    const options = By.css('[data-testid="question"] ol button');
    for (let asked = 0; asked < 20; asked++) {
      await driver.wait(
        async () =>
          (await driver.findElements(By.css('[data-testid="sitting-done"], [data-testid="question"]'))).length > 0,
        10_000,
      );
      if ((await driver.findElements(By.css('[data-testid="sitting-done"]'))).length > 0) break;
      const { length } = await driver.findElements(options);
      expect(length).toBeGreaterThan(1);
      // By keys alone: the first option, and on.
      await driver.actions().sendKeys('1').perform();
      await page.find(By.css('[data-testid="why"]'));
      await driver.actions().sendKeys('n').perform();
      await driver.wait(async () => (await driver.findElements(By.css('[data-testid="why"]'))).length === 0, 10_000);
    }
    await page.shows('right at first.');
    await page.press('More questions');
    await page.find(By.css('[data-testid="question"]'));
  });

  it('asks which of four pictured parts is the one on the sheet, as soon as they are drawn', async () => {
    const work = /my\/(\d+)/.exec(await driver.getCurrentUrl())?.[1] ?? '';
    const pictured = () =>
      driver.executeAsyncScript<boolean>(
        `const done = arguments[1];
         fetch('/api/work/' + arguments[0] + '/reading').then((answer) => answer.json())
           .then(({ questions }) => done(questions.some(({ pictures }) => pictures !== null)));`,
        work,
      );
    await driver.wait(pictured, 60_000, 'no pictures were drawn');
    await driver.navigate().refresh();
    // What was never asked comes first.
    await page.shows('Four parts, seen from above and behind.');
    const drawn = await driver.findElements(By.css('[data-testid="question"] ol button svg path'));
    expect(new Set(await Promise.all(drawn.map((path) => path.getAttribute('d')))).size).toBe(4);
    await driver.actions().sendKeys('2').perform();
    await page.shows('Go from view to view');
  });
});

describe('a size that is not written', () => {
  it('is worked out link by link, looked at, and kept on the own sheet', async () => {
    await toWork();
    await page.follow('Work out a size');
    await page.find(By.css('[data-sheet] svg'));
    // Two heights of the front view, left of its crown and in it.
    await page.pointAt(97, 188);
    await page.shows('Pick the second line.');
    await page.pointAt(135, 170);
    await page.shows('follows from 3 sizes of the sheet');
    await page.press('Help with the first link');
    await page.shows('Begin with C (Height)');
    await page.fill('What do you make of it?', '1');
    await page.press('Is that right?');
    await page.shows('It is another size.');
    // 1.625 - .450 - .625
    await page.fill('What do you make of it?', 'C - .45 - .625');
    await page.press('Is that right?');
    await page.shows('That is it.');
    await page.fill('What it is', 'Groove above the step');
    await page.press('Keep it on my sheet');
    await page.shows('a Groove above the step = C - .45 - .625');
    await page.find(By.css('[data-pin="a"]'));
  });

  it('has a calculator beside it that carries units along', async () => {
    await page.fill('A sum of lengths', '1 3/4 - 5/16 + 10 mm');
    // 1.4375 in = 36.5125 mm, and 10.
    await page.shows('46.5125 mm');
    await page.choose('Work out', 'Thread: minor diameter and tap drill');
    await page.fill('Major diameter, in', '10 mm');
    await page.fill('Pitch, in', '1.5 mm');
    await page.shows('8.5 mm');
  });

  it('is seen by the instructor beside the attempt, with how much help there was', async () => {
    await page.signOut();
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.open('/desk');
    await page.toAssignment('SB-102');
    await page.follow('Bettina Crane');
    await page.shows('Dimension round: 3 dimensions measured');
    await page.shows('Groove above the step C - .45 - .625, with help by links');
    await page.shows('A recipe with');
  });

  it('and how the class reads is on the page of what it needs', async () => {
    await page.open('/grades');
    await page.follow('What the class needs');
    await page.find(By.css('[data-testid="class-reading"]'));
    await page.shows('of 1 student');
  });
});
