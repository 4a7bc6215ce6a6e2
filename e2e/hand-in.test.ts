import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

import { PNG } from 'pngjs';
import { By, logging, type WebDriver, type WebElement } from 'selenium-webdriver';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';

import { TYPED_LABELS, type TypedInput } from '#core/grade';
import { unwrap } from '#core/problem';
import { withValues } from '#core/recipe';
import { INSTRUCTOR, STUDENT_PASSWORD } from '#demo/course';
import { fairleadBlockExercise, gudgeonBracketExercise, mastStepExercise, winchDrumExercise } from '#demo/exercises';

import { openBrowser } from './browser.ts';
import { model, stlInInches, textFile } from './models.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;

beforeAll(async () => {
  driver = await openBrowser();
  page = new Page(driver, ownServer());
});
afterAll(() => driver.quit());
afterEach(async () => {
  await page.open('/');
  if ((await page.text()).includes('Password')) return;
  await page.signOut();
});
// Registered last, it runs first: the picture is of the page as it failed, before anybody signs out.
keepFailures(() => page);

/** Advice of the software renderer about its own speed, where the page's pixels are read back: not of our making. */
const DRIVER_ADVICE = 'GL Driver Message (OpenGL, Performance';

/** What the browser complained about since the last look, less the answers that a test provoked on purpose. */
async function complaints(allowed = /$^/): Promise<string[]> {
  const entries = await driver.manage().logs().get(logging.Type.BROWSER);
  return entries
    .map((entry) => `${entry.level.name} ${entry.message}`)
    .filter((entry) => !allowed.test(entry) && !entry.includes(DRIVER_ADVICE));
}

/** Share of pixels of an element that are not of its commonest color. */
async function paintedShare(element: WebElement): Promise<number> {
  const { data } = PNG.sync.read(Buffer.from(await element.takeScreenshot(), 'base64'));
  const counts = new Map<number, number>();
  for (let i = 0; i < data.length; i += 4)
    counts.set(data.readUInt32BE(i), (counts.get(data.readUInt32BE(i)) ?? 0) + 1);
  return 1 - Math.max(...counts.values()) / (data.length / 4);
}

async function openWork(title: string): Promise<void> {
  await page.open('/my');
  await page.follow(title);
  await page.find(By.css('[data-sheet] svg'));
}

async function typeNumbers(typed: readonly TypedInput[], decimalComma = false): Promise<void> {
  for (const { name, text } of typed) await page.fill(TYPED_LABELS[name], decimalComma ? text.replace('.', ',') : text);
}

async function handIn(file: string): Promise<void> {
  await (await page.find(By.css('[data-testid="file"]'))).sendKeys(file);
  await page.press('Hand in');
}

describe('a student', () => {
  it('hands in a right part with decimal commas and reads full score', async () => {
    await page.signIn('kasper', STUDENT_PASSWORD);
    await openWork('Winch drum');
    expect(await page.text()).toContain('A = 3.250');
    const right = await model(winchDrumExercise, { kind: 'none' }, 'kasper SB-201.step');
    await typeNumbers(right.typed, true);
    await handIn(right.file);
    await page.shows('Measured: 100 of 100');
    await page.follow('Read the report');
    expect(await (await page.find(By.css('[data-testid="score"]'))).getText()).toContain('100');
    await page.shows('Every check is right');
    expect(await driver.findElements(By.css('[data-testid="report-lines"] tr[data-verdict="wrong"]'))).toHaveLength(0);
    const typed = await (await page.find(By.css('[data-testid="typed-lines"]'))).getText();
    expect(typed.match(/belongs to the file/g)).toHaveLength(5);
    expect(await paintedShare(await page.canvas())).toBeGreaterThan(0.05);
    expect(await complaints()).toEqual([]);
  });

  it('hands in a part with one wrong hole and is told which dimension, by how much and why', async () => {
    await page.signIn('nils', STUDENT_PASSWORD);
    await openWork('Fairlead block');
    const wrong = await model(
      fairleadBlockExercise,
      { kind: 'radius-for-diameter', step: 'bolts', hole: 2 },
      'nils.step',
    );
    await typeNumbers(wrong.typed);
    await handIn(wrong.file);
    await page.shows('Read the report');
    await page.follow('Read the report');
    // First what is wrong and why; by how much, when it is asked for.
    const text = await (await page.find(By.css('[data-testid="report-lines"]'))).getText();
    expect(text).not.toContain('0.1720');
    await page.press('Show how far off');
    const line = await page.find(By.css('[data-testid="report-lines"] tr[data-check="bolt-diameter"]'));
    expect(await line.getAttribute('data-verdict')).toBe('wrong');
    expect(await line.getText()).toMatch(/0\.3440\s+0\.1720 in\s+-0\.1720/);
    await page.shows('(number 2 of 2)');
    await page.shows('The radius was typed where a diameter was asked');
    // Volume and mass are not on the sheet, and the answers are not released before the due time.
    const volume = await page.find(By.css('[data-testid="report-lines"] tr[data-check="volume"]'));
    expect(await volume.getText()).toContain('after release');
    expect(await complaints()).toEqual([]);
  });

  it('reads the sheet one dimension after the other, and takes it home as PDF with the name on it', async () => {
    await page.signIn('ansel', STUDENT_PASSWORD);
    await openWork('Cleat plate');
    await page.press('Next dimension');
    expect(await page.text()).toMatch(/1 of \d+/);
    await page.press('Larger');
    const pdf = await driver.executeAsyncScript<string>(
      `const done = arguments[0];
       const address = document.querySelector('a[href*="sheet.pdf"]').href;
       fetch(address).then((answer) => answer.arrayBuffer()).then((bytes) =>
         done(String.fromCharCode(...new Uint8Array(bytes).slice(0, 5)) + ' ' + bytes.byteLength));`,
    );
    expect(pdf).toMatch(/^%PDF- \d{4,}/);
    expect(await (await page.find(By.css('[data-sheet]'))).getText()).toContain('Ansel Brody');
    await page.follow('Attempt 1');
    await page.canvas();
    await page.click(By.xpath('//button[@role="tab"][.="The sheet, marked"]'));
    await page.find(By.css('[data-sheet] g[data-check="bolt-diameter"] text[fill="#a63a12"]'));
  });

  it('loses nothing typed by a reload, and is told of numbers that are none while typing', async () => {
    await page.signIn('lio', STUDENT_PASSWORD);
    await openWork('Fairlead block');
    await page.fill('Mass', '1,5 kg');
    await page.fill('Volume', 'quite large');
    await page.shows('"quite large" is not a number');
    await driver.navigate().refresh();
    expect(await (await page.field('Mass')).getAttribute('value')).toBe('1,5 kg');
    expect(await (await page.field('Volume')).getAttribute('value')).toBe('quite large');
    expect(await (await page.button('Hand in')).isEnabled()).toBe(false);
  });

  it('is asked to sign in again over the page when the sign-in has run out, and goes on with what was typed', async () => {
    await page.signIn('lio', STUDENT_PASSWORD);
    await openWork('Winch drum');
    await page.fill('Mass', '12.5');
    await driver.manage().deleteAllCookies();
    await (await page.find(By.css('[data-testid="file"]'))).sendKeys(textFile('any.step', 'ISO-10303-21;'));
    await page.press('Hand in');
    await page.shows('Your sign-in has run out');
    // There is no way round it.
    expect(await driver.findElements(By.css('[role="dialog"] [aria-label="Close"]'))).toEqual([]);
    await page.fill('Sign-in name', 'lio');
    await page.fill('Password', STUDENT_PASSWORD);
    await page.press('Sign in');
    await driver.wait(async () => !(await page.text()).includes('has run out'), 20_000);
    expect(await (await page.field('Mass')).getAttribute('value')).toBe('12.5');
    await complaints();
  });
});

it('a second stage opens when the first is measured, and asks with its own letters and sheet', async () => {
  await page.signIn('juno', STUDENT_PASSWORD);
  await openWork('Mast step');
  await page.shows('opens when the one before is measured');
  const letters = await (await page.find(By.css('[data-testid="letters"]'))).getText();
  const values = Object.fromEntries(
    [...letters.matchAll(/\b([A-Z])\s*=\s*([\d.]+)/g)].map(([, name, value]) => [name, value]),
  );
  const recipe = unwrap(withValues(mastStepExercise.recipe, values as Record<string, string>));
  const { file, typed } = await model({ ...mastStepExercise, recipe }, { kind: 'none' }, 'mast step.step');
  await typeNumbers(typed);
  await handIn(file);
  await page.shows('Measured: 100 of 100');
  await page.follow('2. A longer mast');
  await page.shows('needs a wedge');
  await page.shows('attempt 1 of 3');
  expect(await (await page.find(By.css('[data-testid="letters"]'))).getText()).toMatch(/A\s*=\s*6\.5/);
  await page.find(By.css('[data-sheet] [data-check="wedge-hole-diameter"]'));
  await handIn(file);
  // The part of the first stage is too short and has no wedge hole.
  await page.shows('Measured:');
  await page.follow('Read the report');
  await page.shows('Wedge hole diameter');
  expect(await page.text()).toMatch(/of 3, A longer mast/);
});

it('a student hands in triangles in inches, confirms the unit, and every check is right', async () => {
  await page.signIn('lio', STUDENT_PASSWORD);
  await openWork('Winch drum');
  await (await page.find(By.css('[data-testid="file"]'))).sendKeys(await stlInInches(winchDrumExercise, 'lio.stl'));
  const unit = await page.find(By.css('[data-testid="file-unit"]'));
  expect(await unit.getText()).toContain('4.00 x 4.00 x 3.25 in');
  const chosen = await unit.findElement(By.css('input:checked + span'));
  expect(await chosen.getText()).toBe('in');
  await page.press('Hand in');
  await page.shows('Read the report');
  await page.follow('Read the report');
  await page.shows('Every check is right');
  expect(await paintedShare(await page.canvas())).toBeGreaterThan(0.05);
  expect(await driver.findElements(By.css('[data-testid="show-difference"]'))).toHaveLength(0);
  await complaints();
});

describe('bad files', () => {
  const cube = readFileSync(
    createRequire(import.meta.url).resolve('occt-import-js/test/testfiles/cube-units/cube-mm.step'),
    'latin1',
  );
  const several = readFileSync(
    createRequire(import.meta.url).resolve('occt-import-js/test/testfiles/cax-if/as1_pe_203.stp'),
    'latin1',
  );
  const surfaces = cube
    .replace(/MANIFOLD_SOLID_BREP\('([^']*)',(#\d+)\)/, "SHELL_BASED_SURFACE_MODEL('$1',($2))")
    .replace('ADVANCED_BREP_SHAPE_REPRESENTATION', 'MANIFOLD_SURFACE_SHAPE_REPRESENTATION')
    .replace(/CLOSED_SHELL\('',\(#\d+,/, "OPEN_SHELL('',(");

  it('each get a sentence that says what to do, and none uses up an attempt', async () => {
    await page.signIn('mira', STUDENT_PASSWORD);
    await openWork('Winch drum');
    const files: readonly (readonly [string, string, string])[] = [
      ['picture.jpg', 'This is no model.', 'Export the solid body as STEP'],
      ['empty.step', '', 'The file is empty'],
      ['cut.step', cube.slice(0, 4000), 'breaks off before its end'],
      ['surfaces.step', surfaces, 'no solid body'],
      ['nan.step', cube.replace('(1.E+03,', '(NAN,'), 'not a usable number'],
    ];
    for (const [name, content, sentence] of files) {
      await handIn(textFile(name, content));
      await page.shows(sentence);
      await page.shows('It does not count as an attempt.');
      await page.shows('attempt 1 of 2');
    }
  });

  it('several bodies are measured, capped and named', async () => {
    await page.signIn('mira', STUDENT_PASSWORD);
    await openWork('Winch drum');
    await handIn(textFile('several.step', several));
    await page.shows('Read the report');
    await page.follow('Read the report');
    await page.shows('18 separate bodies');
  });
});

describe('the instructor', () => {
  it('issues an exercise, sees the attempt arrive without a reload, and reviews it', async () => {
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.open('/exercises');
    await page.follow('Gudgeon bracket');
    await page.canvas();
    await page.press('Issue to a section');
    await page.press('Issue to the section');
    await page.shows('Choose a section.');
    await page.fill('Attempts', 'many');
    await page.press('Issue to the section');
    await page.shows('Type a whole number.');
    await page.fill('Attempts', '2');
    await page.click(By.xpath('//option[contains(., "Morning bench")]'));
    await page.press('Issue to the section');
    await page.shows('0 of 14 handed in');
    await page.shows('Nothing has been handed in yet');

    const other = await openBrowser();
    try {
      const student = new Page(other, ownServer());
      await student.signIn('ivo', STUDENT_PASSWORD);
      await student.follow('Gudgeon bracket');
      const wrong = await model(
        gudgeonBracketExercise,
        { kind: 'radius-for-diameter', step: 'pin' },
        'ivo SB-202.step',
      );
      for (const { name, text } of wrong.typed) await student.fill(TYPED_LABELS[name], text);
      await (await student.find(By.css('[data-testid="file"]'))).sendKeys(wrong.file);
      await student.press('Hand in');
      await student.shows('Read the report');
    } finally {
      await other.quit();
    }
    await page.shows('1 of 14 handed in');
    const row = await page.find(By.css('[data-testid="attempts"] tr[data-state="graded"]'));
    expect(await row.getText()).toContain('Pin hole: the diameter is 8.0 mm where the sheet says 16.0 mm');
    await page.follow('Ivo Jarrow');
    await page.canvas();
    await page.press('Pin hole');
    const line = await page.find(By.css('[data-check="pin-diameter"]'));
    expect(await line.getText()).toMatch(/16\.00\s+8\.00 mm\s+-8\.00/);
    // The instructor sees what the student does not yet.
    expect(await (await page.find(By.css('[data-check="volume"]'))).getText()).not.toContain('after release');
    expect(await complaints()).toEqual([]);
  });

  it('reads the right and the wrong attempt of the students', async () => {
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.toAssignment('SB-201');
    await page.follow('Kasper Lund');
    await page.shows('Every check is right');
    await page.open('/desk');
    await page.toAssignment('SB-102');
    await page.follow('Nils Osprey');
    await page.shows('(number 2 of 2)');
  });

  it('sees missing and extra material in the model, and takes it home as a file', async () => {
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.toAssignment('SB-101');
    await page.find(By.css('[data-testid="attempts"]'));
    await page.follow('Ansel Brody');
    const canvas = await page.canvas();
    await page.settle();
    const without = await canvas.takeScreenshot();
    // One hole of 9 came out as 4.5 in a plate of 10: pi (4.5^2 - 2.25^2) 10 = 477 mm3 too much, less the facets.
    expect(await (await page.find(By.css('[data-testid="difference"]'))).getText()).toMatch(
      /extra \(striped\)\s+47\d\.\d+ mm³/,
    );
    await page.click(By.css('[data-testid="show-difference"]'));
    await driver.wait(async () => (await page.settle(), (await canvas.takeScreenshot()) !== without), 60_000);
    const link = await (await page.link('as 3MF')).getAttribute('href');
    const bytes = await driver.executeAsyncScript<number>(
      'const done = arguments[1]; fetch(arguments[0]).then((r) => r.arrayBuffer()).then((b) => done(b.byteLength));',
      link,
    );
    expect(bytes).toBeGreaterThan(500);
    expect(await complaints()).toEqual([]);
  });

  it('goes from student to student by keyboard', async () => {
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.toAssignment('SB-101');
    await page.find(By.css('[data-testid="attempts"]'));
    await page.follow('Ansel Brody');
    await page.shows('Next student');
    await driver.actions().sendKeys('n').perform();
    await page.shows('Bettina Crane');
    await page.shows('Every check is right');
    await driver.actions().sendKeys('p').perform();
    await page.shows('number 3 of 4');
  });

  it('cannot reach student pages, and a student cannot reach the instructor’s', async () => {
    await page.signIn('fia', STUDENT_PASSWORD);
    await page.open('/exercises/1');
    await page.shows('Only instructors and assistants may do this.');
    await complaints();
  });
});

describe('the 3D view', () => {
  it('changes with named views and a section, and a picked face chooses its check', async () => {
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.toAssignment('SB-101');
    await page.find(By.css('[data-testid="attempts"]'));
    await page.follow('Juno Kestle');
    const canvas = await page.canvas();
    await page.settle();
    const pictureOf = async () => (await page.settle(), await canvas.takeScreenshot());
    const isometric = await pictureOf();
    await page.press('Top');
    const top = await pictureOf();
    expect(top).not.toBe(isometric);
    await page.click(By.xpath('//label[normalize-space(.)="X"]'));
    expect(await pictureOf()).not.toBe(top);
    await page.click(By.xpath('//label[normalize-space(.)="None"]'));
    expect(await pictureOf()).toBe(top);
    // In the top view the middle of the part is solid metal between the slots: its thickness is the check of that face.
    await driver.actions().move({ origin: canvas }).click().perform();
    const chosen = await page.find(By.css('[data-testid="report-lines"] button[aria-pressed="true"]'));
    expect(await chosen.getText()).toBe('Thickness');
  });
});
