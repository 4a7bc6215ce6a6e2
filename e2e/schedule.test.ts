/** A term planned in one table: lessons, holidays, dates typed by hand, all issued at once, and shifted later. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { By, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR } from '#demo/course';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);

const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-term-'));
/** 2099-09-07 is a Monday; the week of the second lesson is free. */
const HOLIDAYS = [
  'BEGIN:VCALENDAR',
  'VERSION:2.0',
  'PRODID:-//Saltmarsh//Term//EN',
  'BEGIN:VEVENT',
  'UID:1',
  'SUMMARY:Regatta week',
  'DTSTART;VALUE=DATE:20990914',
  'DTEND;VALUE=DATE:20990919',
  'END:VEVENT',
  'END:VCALENDAR',
].join('\r\n');

const set = async (label: string, value: string): Promise<void> => {
  const field = await page.field(label);
  // Fields of dates take no typing that is the same in every language of a browser.
  await driver.executeScript(
    `const [field, value] = arguments;
     Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, value);
     field.dispatchEvent(new Event('input', { bubbles: true }));`,
    field,
    value,
  );
};
const cell = async (label: string): Promise<string | null> =>
  page.attribute(By.css(`input[aria-label="${label}"]`), 'value');

describe('a series over a term', () => {
  beforeAll(async () => {
    driver = await openBrowser();
    page = new Page(driver, ownServer());
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  });
  afterAll(async () => {
    await driver.quit();
    rmSync(folder, { recursive: true, force: true });
  });

  it('is computed from lessons and holidays, and says what is missing', async () => {
    await page.follow('Exercises');
    await page.follow('Issue a series');
    await page.shows('Choose at least one section.');
    await page.click(By.xpath('//label[contains(., "Evening bench")]'));
    await page.shows('Choose the days of the week');
    await page.click(By.xpath('//label[normalize-space(.)="Mon"]'));
    await page.shows('Choose the exercises.');
    for (const exercise of ['SB-103', 'SB-301']) await page.click(By.css(`input[aria-label^="Issue ${exercise}"]`));
    await set('From', '2099-09-07');
    await page.find(By.css('input[aria-label^="Opening of SB-103"][value="2099-09-07T09:00"]'));
    expect(await cell('Opening of SB-301 Mast step')).toBe('2099-09-14T09:00');
  });

  it('goes around the holidays of a calendar file, which has to be one', async () => {
    const [none, holidays] = [path.join(folder, 'none.ics'), path.join(folder, 'holidays.ics')];
    writeFileSync(none, 'Name,Date');
    writeFileSync(holidays, HOLIDAYS);
    const input = await page.find(By.css('[data-testid="holidays"]'));
    await input.sendKeys(none);
    await page.shows('This is no calendar file.');
    await input.sendKeys(holidays);
    await page.shows('1 holiday left out');
    await page.find(By.css('input[aria-label^="Opening of SB-301"][value="2099-09-21T09:00"]'));
  });

  it('changes its order, is issued at once, and is shifted as a whole', async () => {
    await page.click(By.css('button[aria-label^="SB-301"][aria-label$="earlier"]'));
    await page.find(By.css('input[aria-label^="Opening of SB-301"][value="2099-09-07T09:00"]'));
    await page.click(By.css('select[aria-label^="How students work on SB-301"] option[value="together"]'));
    await page.press('Issue 2 exercises');
    await page.toAssignment('SB-301', 'Evening bench');
    await page.shows('Evening bench');
    await page.press('Change dates, attempts, reports');
    expect(await (await page.field('Steps of the reference')).getAttribute('value')).toBe('shown');
    await page.fill('Shift this and all later ones of Evening bench by days', '7');
    await page.press('Shift them');
    await page.shows('2 assignments shifted.');
  });
});
