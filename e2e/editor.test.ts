import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { By, Key, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { writeStl } from '#core/mesh';
import { unwrap } from '#core/problem';
import { INSTRUCTOR } from '#demo/course';
import { renderPdf } from '#print';
import { packExercise, unpackExercise } from '#server/archive';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

/** A box in millimeters, two triangles a side. */
function trianglesOfBox(x: number, y: number, z: number) {
  const corners = [0, z].flatMap((h) => [0, 0, h, x, 0, h, x, y, h, 0, y, h]);
  const sides = [
    0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7,
  ];
  return { positions: Float64Array.from(corners), indices: Uint32Array.from(sides) };
}

let driver: WebDriver;
let page: Page;
keepFailures(() => page);
const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-editor-'));

beforeAll(async () => {
  driver = await openBrowser();
  page = new Page(driver, ownServer());
  await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
});
afterAll(async () => {
  await driver.quit();
  rmSync(folder, { recursive: true, force: true });
});

/** Opens the editor of an exercise from the list, and waits for its part. */
const edit = async (number: string): Promise<void> => {
  await page.open('/exercises');
  await page.follow(number);
  await page.follow('Edit');
  await page.canvas();
};

const tab = async (name: string): Promise<void> => {
  await page.click(By.xpath(`//button[@role="tab"][.="${name}"]`));
};

const type = (label: string, text: string): Promise<void> => page.type(label, text);
const addStep = (search: string): Promise<void> => page.addStep(search);

const figures = async (): Promise<string> => (await page.find(By.css('[data-testid="figures"]'))).getText();
const volumeIs = async (text: string): Promise<void> => {
  await driver.wait(async () => (await figures().catch(() => '')).includes(text), 60_000, `no volume of ${text}`);
};
const saved = async (): Promise<void> => {
  await driver.wait(
    async () => (await (await page.find(By.css('[data-testid="saving"]'))).getText()).startsWith('Saved'),
    30_000,
  );
};

/** Clicks the middle of the 3D view, where the top of a plate is seen. */
async function pickMiddle(): Promise<void> {
  await driver
    .actions()
    .move({ origin: await page.canvas() })
    .click()
    .perform();
}

describe('an instructor authors an exercise from nothing', () => {
  it('steps build as they are typed; a mistake is named, the last good part stays, and it is repaired', async () => {
    await page.open('/exercises');
    await page.press('New exercise');
    await page.fill('Number', 'SB-900');
    await page.fill('Title', 'Test wedge');
    await page.press('Begin');
    await page.shows('The part is empty');
    await page.press('Letter');
    await type('Value of A', '60');
    await addStep('block');
    await type('Width', 'A');
    await type('Height', 'A/2');
    // 60 x 30 x 10
    await volumeIs('18000.0 mm³');
    expect(await page.text()).toContain('add 10 high, rectangle A x A/2');

    await type('Depth', 'Q + 1');
    await page.shows('"Q" in "Q + 1" is not a parameter of this part.');
    await page.shows('Step "block1"');
    expect(await figures()).toContain('18000.0 mm³');
    await type('Depth', '12');
    await volumeIs('21600.0 mm³');
    expect(await page.text()).not.toContain('is not a parameter');
  });

  it('a face picked in the part fills the plane of a hole; undo takes it back', async () => {
    await addStep('drill');
    const drawnOn = await page.field('Drawn on');
    await drawnOn.sendKeys('side plane');
    // Half of the hole lies below the block: pi / 2 x 4 x 4 x 60 = 1507.96 less. Only then is the top whole, to be picked.
    await volumeIs('20092.0 mm³');
    await page.press('Pick drawn on in the part');
    await page.shows('Pick a surface in the part.');
    await pickMiddle();
    await driver.wait(async () => (await drawnOn.getAttribute('value')) === 'surface block1.end', 20_000);
    // Less a hole of 8 through 12: 603.19.
    await volumeIs('20996.8 mm³');
    await page.press('Undo');
    await driver.wait(async () => (await drawnOn.getAttribute('value')) !== 'surface block1.end', 20_000);
    await page.press('Redo');
    await volumeIs('20996.8 mm³');
  });

  it('a corner picked in the plane view is rounded', async () => {
    await page.click(By.xpath('(//ol[@data-testid="steps"]/li)[1]//button[@aria-expanded]'));
    await page.click(By.css('[aria-label="Corner 2: round it"]'));
    // A round of radius 2 through 12: (1 - pi / 4) 4 x 12 = 10.3 less.
    await volumeIs('20986.5 mm³');
    await page.click(By.css('[aria-label="Corner 2: make it sharp again"]'));
    await volumeIs('20996.8 mm³');
    await saved();
  });

  it('a plan is suggested, holds on the reference, and a wrong nominal is told at once', async () => {
    await tab('Check plan');
    await page.press('Suggest a plan');
    await page.shows('weights add up to 100');
    await driver.wait(
      async () => (await (await page.find(By.css('[data-testid="plan"]'))).getText()).includes('✓ 60.0 mm'),
      60_000,
    );
    const nominal = await page.find(By.css('[aria-label="Nominal of Length"]'));
    await nominal.sendKeys(Key.chord(Key.CONTROL, 'a'), '61');
    await page.shows('1 check that the reference itself does not pass');
    await nominal.sendKeys(Key.chord(Key.CONTROL, 'a'), 'A');
    await page.shows('weights add up to 100');
  });

  it('a plan that is suggested again replaces nothing unasked: what it lacks is offered, what was typed stays', async () => {
    await page.click(By.css('[aria-label="Remove check Width"]'));
    await page.press('Suggest a plan');
    await page.shows('1 check would be suggested that the plan does not have: Width.');
    await page.press('Add 1 check');
    await page.find(By.css('[aria-label="Nominal of Width"]'));
    expect(await (await page.find(By.css('[aria-label="Nominal of Length"]'))).getAttribute('value')).toBe('A');
    await page.press('Suggest a plan');
    await page.shows('The plan has every check that would be suggested.');
    await page.press('Keep it as it is');
    await driver.wait(async () => !(await page.text()).includes('Keep it as it is'), 20_000);
  });

  it('variants are generated from a range, all sound and none alike', async () => {
    await tab('Variants and key');
    for (const [part, text] of [
      ['from', '50'],
      ['to', '80'],
      ['step', '5'],
    ] as const)
      await (await page.find(By.css(`[aria-label="A ${part}"]`))).sendKeys(text);
    await type('How many', '3');
    await page.press('Generate');
    await page.shows('3 variants, all sound and none alike');
    await page.press('Work out the key');
    await page.shows('as drawn');
    await saved();
  });

  it('a revision can be made, exported, and imported again under another number; damaged files are refused', async () => {
    const address = await driver.getCurrentUrl();
    const id = /exercises\/(\d+)\/edit/.exec(address)?.[1] ?? '';
    const archive = await driver.executeAsyncScript<string>(
      `const done = arguments[1];
       fetch('/api/exercises/' + arguments[0] + '/export.zip').then((r) => r.blob()).then((blob) => {
         const reader = new FileReader();
         reader.onload = () => done(reader.result.split(',')[1]);
         reader.readAsDataURL(blob);
       });`,
      id,
    );
    const { exercise } = unwrap(await unpackExercise(new Uint8Array(Buffer.from(archive, 'base64'))));
    expect(exercise).toMatchObject({ number: 'SB-900', title: 'Test wedge' });
    expect(exercise.variants).toHaveLength(3);
    await page.press('Make a revision');
    await page.shows('Issue to a section');

    await page.open('/exercises');
    const broken = path.join(folder, 'broken.zip');
    writeFileSync(broken, Buffer.from(archive, 'base64').subarray(0, 200));
    await (await page.find(By.css('[data-testid="import"]'))).sendKeys(broken);
    await page.shows('This is not an exercise archive');
    const copy = path.join(folder, 'copy.zip');
    writeFileSync(copy, packExercise({ ...exercise, number: 'SB-901', title: 'Test wedge again' }, null));
    expect(readFileSync(copy).length).toBeGreaterThan(500);
    await (await page.find(By.css('[data-testid="import"]'))).sendKeys(copy);
    await page.shows('Test wedge again');
    await volumeIs('20996.8 mm³');
  });

  it('takes a model file in place of steps: its unit is confirmed, its features become a plan', async () => {
    const file = path.join(folder, 'strap.stl');
    writeFileSync(file, writeStl(trianglesOfBox(60, 40, 10)));
    await page.open('/exercises');
    await page.press('New exercise');
    await page.fill('Number', 'SB-905');
    await page.fill('Title', 'Strap from a file');
    await page.press('Begin');
    await (await page.find(By.css('[data-testid="reference-file"]'))).sendKeys(file);
    await page.shows('the file does not say what its numbers are in');
    await page.click(By.css('[aria-label="Unit of the model file"] option[value="cm"]'));
    await page.shows('600.0 x 400.0 x 100.0 mm');
    await page.click(By.css('[aria-label="Unit of the model file"] option[value="mm"]'));
    await page.shows('60.0 x 40.0 x 10.0 mm');
    await volumeIs('24000.0 mm³');
    await tab('Check plan');
    await page.press('Suggest a plan');
    await page.shows('✓ 60.0 mm');
    await saved();
    await page.press('Make a revision');
    await page.shows('Issue to a section');
    const letter = path.join(folder, 'letter.txt');
    writeFileSync(letter, 'Dear all, this is no model.');
    await page.follow('Edit');
    await (await page.find(By.css('[data-testid="reference-file"]'))).sendKeys(letter);
    await page.shows('This is not a model file that can be read');
    await page.shows('60.0 x 40.0 x 10.0 mm');
  });

  it('a drawing made elsewhere takes the place of the sheet, and gives it back', async () => {
    const [plate, letter] = [path.join(folder, 'plate.pdf'), path.join(folder, 'no-drawing.pdf')];
    const line = { kind: 'line', layer: 'visible', from: [20, 20], to: [120, 20] } as const;
    const pages = [1, 2].map(() => ({ widthMm: 210, heightMm: 148, entities: [line] }));
    const drawn = { title: 'Plate', scale: 1, pages, views: [], dimensions: [], warnings: [] };
    writeFileSync(plate, await renderPdf([{ sheet: drawn, fields: {} }]));
    writeFileSync(letter, 'Dear all, this is no drawing.');
    await edit('SB-104');
    await tab('Sheet');
    const choose = async (file: string) => (await page.find(By.css('[data-testid="drawing-file"]'))).sendKeys(file);
    await choose(letter);
    await page.shows('cannot be shown as a drawing');
    await choose(plate);
    await page.shows('2 pages, in place of the sheet');
    // The page as it is: 210 mm wide, and higher by the strip that says whose it is.
    const picture = await page.find(By.css('[data-sheet] image'));
    expect(Number(await picture.getAttribute('width'))).toBeCloseTo(210, 0);
    const [width] = await driver.executeAsyncScript<number[]>(
      `const image = new Image(); image.onload = () => arguments[1]([image.naturalWidth]); image.src = arguments[0];`,
      await picture.getAttribute('href'),
    );
    // 200 dots an inch: 210 mm are 1654 of them.
    expect(width).toBeCloseTo(1654, -1);
    await saved();
    await page.press('Draw it from the part instead');
    await page.shows('Varying the sizes of the part');
    await saved();
  });

  it('a size that neither sheet nor plan says is named, and the dimension that says it is added where it is named', async () => {
    await edit('SB-101');
    await tab('Check plan');
    await page.click(By.css('[aria-label="Remove check Thickness"]'));
    await tab('Sheet');
    await page.shows('Nothing on the sheet says the size of Plate along Z (up), and no check decides it.');
    await page.shows('1 size not said, 1 size not checked');
    await page.click(By.css('[data-testid="completeness"] button'));
    await page.find(By.css('[data-sheet] g[data-check^="plate-"]'));
    await page.shows('The sheet says every size, once');
    await page.press('Undo');
    await page.shows('1 size not said, 1 size not checked');
    await page.press('Undo');
    await page.shows('The sheet says every size, once');
    await saved();
  });

  it('several sizes are added at once, and the views are chosen by the part', async () => {
    await edit('SB-101');
    await tab('Check plan');
    for (const label of ['Thickness', 'Width']) await page.click(By.css(`[aria-label="Remove check ${label}"]`));
    await tab('Sheet');
    await page.shows('2 sizes not said, 2 sizes not checked');
    await page.press('Add all that is missing');
    await page.shows('The sheet says every size, once');
    await page.press('Choose views by the part');
    // A plate with holes through it needs no section: the three views stay.
    await page.find(By.css('[data-sheet] g[data-check="length"]'));
    await tab('Check plan');
    await page.find(By.css('[aria-label="Remove check Plate end from Plate start"]'));
    await saved();
  });

  it('a dimension of the sheet is moved by dragging and by keys, and stays there', async () => {
    await edit('SB-202');
    await tab('Sheet');
    await page.shows('Varying the sizes of the part');
    const text = By.css('[data-sheet] g[data-check="length"][transform]');
    const place = async (): Promise<string> => (await page.attribute(text, 'transform')) ?? '';
    const before = await place();
    await page.use(text, (origin) =>
      driver.actions().move({ origin }).press().move({ origin, x: 0, y: 30 }).release().perform(),
    );
    await driver.wait(async () => (await place()) !== before, 60_000, 'the dimension did not move');
    const dragged = await place();
    await page.click(text);
    await page.find(By.css('[data-testid="chosen-dimension"]'));
    await page.press('Down');
    await driver.wait(async () => (await place()) !== dragged, 60_000, 'the dimension did not move by keys');
    await page.press('Let it find its place');
    await driver.wait(async () => (await place()) === before, 60_000, 'the dimension did not find its place');
    await page.click(By.css('[aria-label="Remove top"]'));
    await page.shows('Arrange anew');
    await driver.wait(
      async () => (await driver.findElements(By.css('[data-sheet] [data-view="top"]'))).length === 0,
      60_000,
    );
    await page.press('Undo');
    await page.find(By.css('[data-sheet] [data-view="top"]'));
    await saved();
  });

  it('a section is added to the sheet, hatched, and named where it misses the part', async () => {
    await (await (await page.field('Add a view')).findElement(By.css('option[value="section"]'))).click();
    await page.find(By.css('[data-sheet] [data-layer="hatch"] path'));
    await type('plane at', '500');
    await page.shows('does not meet the part');
    await page.click(By.css('[aria-label="Remove section A-A"]'));
    await driver.wait(async () => !(await page.text()).includes('does not meet the part'), 60_000);
    await saved();
  });

  it('two windows notice each other, and nothing is lost', async () => {
    const address = await driver.getCurrentUrl();
    const first = await driver.getWindowHandle();
    await tab('Description and rules');
    await driver.switchTo().newWindow('window');
    await driver.get(address);
    await page.canvas();
    await tab('Description and rules');
    await type('Title', 'From the second window');
    await saved();
    const second = await driver.getWindowHandle();
    await driver.switchTo().window(first);
    await type('Title', 'From the first window');
    await page.find(By.css('[data-testid="conflict"]'));
    await page.follow('Exercises');
    await page.shows('Your last changes are not saved');
    await page.press('Stay');
    await page.press('keep yours');
    await saved();
    await driver.switchTo().window(second);
    await driver.navigate().refresh();
    await page.shows('From the first window');
    await driver.close();
    await driver.switchTo().window(first);
  });

  it('a comparison with the revision says what changed', async () => {
    await edit('SB-900');
    await type('Value of A', '72');
    await volumeIs('30500.8 mm³');
    await tab('Revisions');
    await page.shows('Letter A');
    await page.shows('From revision 1 to the draft: 1 change');
    await page.shows('20.997 cm³');
  });

  it('what was typed just before another page is opened is kept', async () => {
    await edit('SB-900');
    await tab('Description and rules');
    await type('Title', 'Test wedge, to the last letter');
    await page.follow('Exercises');
    await page.follow('SB-900');
    await page.follow('Edit');
    await page.shows('Test wedge, to the last letter');
  });

  it('where saving fails it is said, and asked before another page is opened; it is saved as soon as that is possible', async () => {
    await edit('SB-103');
    await tab('Description and rules');
    await driver.executeScript(`window.networkOn = window.fetch;
      window.fetch = (request, ...rest) => request.method === 'PUT'
        ? Promise.reject(new TypeError('no network'))
        : window.networkOn(request, ...rest);`);
    await type('Title', 'Tiller pin, typed without a network');
    await page.shows('It is tried again');
    await page.follow('Exercises');
    await page.shows('Your last changes are not saved');
    await page.press('Stay');
    await driver.executeScript('window.fetch = window.networkOn;');
    await saved();
    await driver.navigate().refresh();
    await page.shows('Tiller pin, typed without a network');
  });
});
