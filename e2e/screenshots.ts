/** Takes the pictures in docs/screenshots from a running demo: `node dist/node/screenshots.js [folder] [address]`. */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';

import { By, Key } from 'selenium-webdriver';

import { INSTRUCTOR, STUDENT_PASSWORD } from '#demo/course';
import { pumpCoverExercise } from '#demo/exercises';

import { openBrowser } from './browser.ts';
import { model } from './models.ts';
import { Page } from './pages.ts';

const folder = path.resolve(process.argv[2] ?? 'docs/screenshots');
const baseUrl = process.argv[3] ?? 'http://127.0.0.1:4310';
const only = process.argv[4]?.split(',') ?? null;
mkdirSync(folder, { recursive: true });

const driver = await openBrowser();
const page = new Page(driver, baseUrl);

async function shoot(name: string): Promise<void> {
  if (only && !only.includes(name)) return;
  await page.settle();
  writeFileSync(path.join(folder, `${name}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'));
}

try {
  await page.open('/');
  await page.field('Sign-in name');
  await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  await page.find(By.css('[data-testid="needs"]'));
  await shoot('desk');
  await page.open('/exercises');
  await page.shows('Gudgeon bracket');
  await driver.wait(
    async () =>
      await driver.executeScript<boolean>(
        'return [...document.images].slice(0, 2).every((i) => i.complete && i.naturalWidth > 0)',
      ),
    20_000,
  );
  await shoot('exercises');
  await page.follow('SB-202');
  await page.canvas();
  await page.click(By.xpath('//button[@role="tab"][.="Mistakes"]'));
  await page.find(By.css('[data-testid="coverage"]'));
  await shoot('coverage');
  await page.open('/exercises/schedule');
  await page.click(By.xpath('//label[contains(., "Evening bench")]'));
  for (const day of ['Tue', 'Fri']) await page.click(By.xpath(`//label[normalize-space(.)="${day}"]`));
  for (const exercise of ['SB-103', 'SB-105', 'SB-206', 'SB-301'])
    await page.click(By.css(`input[aria-label^="Issue ${exercise}"]`));
  await shoot('schedule');
  await page.open('/exercises');
  await page.follow('SB-204');
  await page.follow('Edit');
  await page.canvas();
  await page.click(By.xpath('(//ol[@data-testid="steps"]/li)[1]//button[@aria-expanded]'));
  await page.find(By.css('[data-testid="plane-view"] path'));
  await shoot('editor-part');
  const tab = async (name: string): Promise<void> => {
    await page.click(By.xpath(`//button[@role="tab"][.="${name}"]`));
  };
  await tab('Check plan');
  await page.shows('✓');
  await shoot('editor-plan');
  await tab('Sheet');
  await page.shows('The sheet says');
  await shoot('editor-sheet');
  await page.open('/exercises');
  await page.follow('SB-104');
  await page.follow('Edit');
  await page.canvas();
  await page.open('/grades');
  await page.find(By.css('[data-testid="gradebook"]'));
  await shoot('gradebook');
  await page.follow('What the class needs');
  await page.click(By.xpath('//button[contains(., "SB-202")]'));
  await page.shows('Checks on first attempts');
  await page.find(By.css('canvas'));
  await shoot('insight');
  await page.open('/desk');
  await page.toAssignment('SB-202', 'Evening bench');
  await page.find(By.css('[data-testid="common-causes"]'));
  await page.find(By.css('canvas'));
  await shoot('assignment');
  await page.open('/desk');
  await page.toAssignment('SB-101');
  await page.follow('Ansel Brody');
  await page.canvas();
  await page.press('Bolt holes');
  await page.press('Count it otherwise O');
  await page.fill('Because', 'Three of the four holes are right.');
  await page.find(By.css('[data-testid="build-log"]'));
  await shoot('review');
  await page.signOut();

  await page.signIn('ansel', STUDENT_PASSWORD);
  await page.shows('Open');
  await driver.wait(
    async () =>
      await driver.executeScript<boolean>('return [...document.images].every((i) => i.complete && i.naturalWidth > 0)'),
    20_000,
  );
  await shoot('student-work');
  await page.follow('Winch drum');
  await page.find(By.css('[data-sheet] svg'));
  await shoot('student-exercise');
  await page.open('/my');
  await page.follow('Fairlead block');
  await page.follow('Attempt 1');
  await page.canvas();
  await shoot('student-report');
  await page.click(By.xpath('//button[@role="tab"][.="The sheet, marked"]'));
  await page.find(By.css('[data-sheet] svg'));
  await shoot('student-report-sheet');
  await page.open('/my');
  await page.follow('Bilge-pump cover');
  await page.follow('Measure your model first');
  const cover = await model(pumpCoverExercise, { kind: 'none' }, 'ansel SB-104.step');
  await (await page.find(By.css('[data-testid="measured-file"]'))).sendKeys(cover.file);
  await page.shows('What was found on it');
  const canvas = await page.canvas();
  await page.settle();
  // The hub, and the rim of the cover.
  await driver.actions().move({ origin: canvas }).click().perform();
  await driver.actions().move({ origin: canvas, x: -120, y: 60 }).click().perform();
  await page.shows('Between the two');
  await shoot('student-measuring');
  await page.open('/my');
  await page.follow('Fairlead block');
  await page.follow('Build the part here');
  await page.find(By.css('[data-sheet] svg'));
  await page.addStep('block');
  for (const [label, text] of [
    ['Width', 'A'],
    ['Height', 'B'],
    ['Depth', '.625'],
  ] as const)
    await page.type(label, text);
  // 3.5 x 1.875 x .625
  await page.shows('4.1016 in³');
  await page.press('Fit');
  await shoot('student-building');
  await page.open('/my');
  await page.follow('Fairlead block');
  await page.follow('Practice reading the sheet');
  await page.find(By.css('[data-testid="question"]'));
  await page.find(By.css('[data-sheet] svg'));
  await page.click(By.xpath('//button[contains(., "In inches")]'));
  await page.find(By.css('[data-testid="why"]'));
  await shoot('student-reading');
  await page.open('/my');
  await page.follow('Fairlead block');
  await page.follow('Go round the sheet');
  await page.find(By.css('[data-testid="round"]'));
  await page.find(By.css('[data-sheet] svg'));
  for (const [id, text] of [
    ['length', '3 1/2'],
    ['eye-diameter', '.375'],
    ['groove-width', '.5'],
  ] as const)
    await (await page.find(By.id(`round-${id}`))).sendKeys(text, Key.ENTER);
  await page.shows('2 of 13 agree, 1 differs');
  await (await page.find(By.id('round-eye-diameter'))).click();
  await shoot('student-round');
} finally {
  await driver.quit();
}
