/** A class beside its hand-ins: questions about a sheet, groups with other dates, parts that are worked together. */
import { By, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { TYPED_LABELS } from '#core/grade';
import { INSTRUCTOR, STUDENT_PASSWORD } from '#demo/course';
import { winchDrumExercise } from '#demo/exercises';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { model } from './models.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);

beforeAll(async () => {
  driver = await openBrowser();
  page = new Page(driver, ownServer());
});
afterAll(async () => {
  await driver.quit();
});

/** Somebody else sits down at the browser. */
const as = async (login: string, password: string = STUDENT_PASSWORD): Promise<void> => {
  await driver.manage().deleteAllCookies();
  await page.signIn(login, password);
};
const toSheet = async (): Promise<void> => {
  await page.open('/my');
  await page.follow('Fairlead block');
  await page.find(By.css('[data-sheet] svg'));
};
const toAssignment = async (section: RegExp): Promise<void> => {
  await page.open('/desk');
  await page.find(By.css('[data-testid="needs"]'));
  await page.toAssignment('SB-102');
  await page.find(By.css('[data-testid="common-causes"]'));
  expect(await page.text()).toMatch(section);
};
const pins = async (): Promise<string[]> =>
  driver.executeScript('return [...document.querySelectorAll("[data-pin]")].map((pin) => pin.dataset.pin);');

const QUESTION = 'Is this hole through?';

describe('a question about a sheet', () => {
  it('is asked at a place before anything is handed in', async () => {
    await as('corin');
    await toSheet();
    await page.press('Ask about the sheet');
    await page.pointAt(100, 80);
    await page.shows('The question mark on the sheet shows where.');
    expect(await pins()).toContain('?');
    await page.fill('Your question', QUESTION);
    await page.press('Ask');
    await page.shows(QUESTION);
    await page.shows('Not answered yet.');
    await driver.wait(async () => !(await pins()).includes('?'), 60_000, 'the question mark stays');
  });

  it('is answered for everybody where it was asked', async () => {
    await as(INSTRUCTOR.login, INSTRUCTOR.password);
    await toAssignment(/about the sheet/);
    await page.follow('Answer');
    const asked = await page.find(By.xpath(`//section[.//h2[contains(., "Corin")]][contains(., "${QUESTION}")]`));
    await page.find(By.css('[data-sheet] svg'));
    await asked.findElement(By.css('textarea')).sendKeys('Yes, the section shows it.');
    await asked.findElement(By.css('input[type="checkbox"]')).click();
    await asked.findElement(By.css('button[type="submit"]')).click();
    await page.shows('for everybody');
  });

  it('is read by another student with its place, without a name', async () => {
    await as('bettina');
    await toSheet();
    const questions = await page.find(By.xpath(`//ol[@data-testid="questions"]/li[contains(., "${QUESTION}")]`));
    expect(await questions.getText()).toContain('Yes, the section shows it.');
    expect(await questions.getText()).not.toContain('Corin');
    expect((await pins()).length).toBeGreaterThan(0);
    await page.open('/my');
    await page.click(By.css('button[aria-haspopup="dialog"][aria-label^="What is new"]'));
    await page.shows('A question about SB-102 Fairlead block is answered.');
  });

  it('leads to a correction that everybody reads', async () => {
    await as(INSTRUCTOR.login, INSTRUCTOR.password);
    await toAssignment(/./);
    await page.click(By.xpath('//a[contains(@href, "/questions")]'));
    await page.press('Tell everybody of a mistake');
    await page.find(By.css('[data-sheet] svg'));
    await page.pointAt(150, 150);
    await page.fill('What is wrong, and how it should be', 'The step is .450 deep, not .540.');
    await page.press('Tell everybody');
    await page.find(By.css('[data-testid="errata"] li'));
    await as('corin');
    await toSheet();
    await page.shows('The step is .450 deep, not .540.');
    expect(await pins()).toContain('E1');
  });
});

describe('a group of students', () => {
  it('is made of some of a section, and has a due time of its own', async () => {
    await as(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.open('/people');
    await page.follow('Morning bench');
    await page.press('New group');
    await page.fill('Name', 'Friday bench');
    await page.click(By.xpath('//label[normalize-space(.)="Corin Dale"]'));
    await page.press('Save');
    await page.find(By.css('[aria-label="Change Friday bench"]'));
    await toAssignment(/./);
    await page.click(By.css('[aria-label="Change the due time of Friday bench"]'));
    // As all to begin with: set as it stands, it is a date of its own.
    await page.press('Set');
    await page.find(By.xpath('//li[contains(., "Friday bench")][contains(., "until")]'));
  });
});

describe('the page of a student', () => {
  it('takes notes for the staff, and is there as a PDF', async () => {
    await page.open('/grades');
    await page.find(By.css('[data-testid="gradebook"]'));
    await page.follow('Corin Dale');
    await page.fill('A note that the student does not see here', 'Asks good questions.');
    await page.press('Note it');
    await page.find(By.xpath('//ul[@data-testid="notes"]/li[contains(., "Asks good questions.")]'));
    const href = await (await page.find(By.xpath('//a[.="PDF for a talk"]'))).getAttribute('href');
    const type = await driver.executeAsyncScript<string>(
      'const done = arguments[1]; fetch(arguments[0]).then((answer) => done(answer.headers.get("content-type")));',
      href,
    );
    expect(type).toBe('application/pdf');
  });
});

describe('a part whose answers are out', () => {
  it('is shown step by step, on the part and on the sheet', async () => {
    await as('bettina');
    await page.open('/my');
    await page.follow('Cleat plate');
    await page.follow('See how the part is made');
    await page.find(By.css('[data-testid="worked-part"] canvas'));
    await page.shows('Step 1 of 4: Plate');
    await page.press('Next step N');
    await page.shows('Step 2 of 4: Corner rounds');
    await page.click(By.xpath('//button[starts-with(normalize-space(.), "3. Bolt holes")]'));
    await page.shows('Step 3 of 4: Bolt holes');
    await page.press('Back B');
    await page.shows('Step 2 of 4: Corner rounds');
  });

  it('lights up a dimension of the sheet and its faces on the part, and a face and its dimensions', async () => {
    await page.click(By.css('[data-sheet] [data-check="thickness"] text'));
    await page.shows('Thickness: its faces are lit on the part.');
    await (await page.find(By.css('[data-testid="worked-part"] canvas'))).click();
    await page.shows('Dimensions of this face:');
    await page.press('Next step N');
    await page.shows('what belongs to it lights up');
  });
});

describe('a student on a phone', () => {
  it('signs in for the first time, hands in, and reads the answer, without a page that is too wide', async () => {
    const office = await openBrowser();
    let slip: string;
    try {
      const staff = new Page(office, ownServer());
      await staff.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
      await staff.follow('People');
      await staff.follow('Morning bench');
      await staff.press('New code for Emil Frost');
      slip = await (await staff.find(By.xpath('//tr[contains(., "Emil Frost")]//*[@role="status"]//b'))).getText();
    } finally {
      await office.quit();
    }
    const phone = await openBrowser({ width: 390, height: 844 });
    try {
      const small = new Page(phone, ownServer());
      const fits = async (where: string): Promise<void> => {
        await small.settle();
        const wide = await phone.executeScript<number>('return document.documentElement.scrollWidth');
        expect(wide, where).toBeLessThanOrEqual(390);
      };
      await small.open('/');
      await small.follow('I have a slip with a code');
      await small.fill('Code of your slip', slip);
      await small.fill('Choose a password', 'gannet rope larch');
      await fits('first sign-in');
      await small.press('Sign in');
      await small.follow('Winch drum');
      await small.find(By.css('[data-sheet] svg'));
      await fits('the exercise');
      const right = await model(winchDrumExercise, { kind: 'none' }, 'emil SB-201.step');
      for (const { name, text } of right.typed) await small.fill(TYPED_LABELS[name], text);
      await (await small.find(By.css('[data-testid="file"]'))).sendKeys(right.file);
      await small.press('Hand in');
      await small.shows('Measured: 100 of 100');
      await fits('handed in');
      await small.follow('Read the report');
      await small.shows('Every check is right');
      await fits('the report');
    } finally {
      await phone.quit();
    }
  });
});
