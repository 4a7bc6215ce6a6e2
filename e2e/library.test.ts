/** The exercises of a school as their instructor finds, sorts, copies and puts them away. */
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR } from '#demo/course';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);

const more = async (number: string, what: string): Promise<void> => {
  await page.click(By.css(`[aria-label="More about ${number}"]`));
  await page.click(By.xpath(`//*[@role="menuitem"][.="${what}"]`));
};
const shownAre = (count: number): Promise<boolean> =>
  driver.wait(async () => (await driver.findElements(By.css('[aria-label^="More about"]'))).length === count, 60_000);

describe('the library', () => {
  let all = 0;
  beforeAll(async () => {
    driver = await openBrowser();
    page = new Page(driver, ownServer());
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
    await page.follow('Exercises');
    await page.find(By.css('[data-testid="exercises"]'));
    all = (await driver.findElements(By.css('[aria-label^="More about"]'))).length;
  });
  afterAll(() => driver.quit());

  it('is searched by words, by what the steps are, and says when nothing is like that', async () => {
    await page.fill('Find', 'drum');
    await shownAre(1);
    await page.fill('Find', 'no such part');
    await page.shows('No exercise is like this.');
    await (await page.field('Find')).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
    await shownAre(all);
    await page.choose('With a step', 'External thread');
    await page.shows('Tiller pin');
    await page.choose('With a step', 'Any');
    await shownAre(all);
  });

  it('sorts by tags, and shows as a list what each exercise has', async () => {
    await more('SB-103', 'Tags');
    await page.fill('Tags, with commas between', 'threads, second week');
    await page.press('Save');
    await page.choose('Tag', 'second week');
    await shownAre(1);
    await page.click(By.xpath('//label[contains(., "As a list")]/input'));
    expect(await (await page.find(By.css('table[data-testid="exercises"]'))).getText()).toMatch(/SB-103.*Stainless/);
    await page.choose('Tag', 'Any');
  });

  it('makes a copy under a number of its own, which is deleted again', async () => {
    await more('SB-103', 'Make a copy');
    await page.fill('Number', 'SB-101');
    await page.press('Make the copy');
    await page.shows('already has an exercise SB-101');
    await page.fill('Number', 'SB-193');
    await page.press('Make the copy');
    await page.canvas();
    await page.open('/exercises');
    await more('SB-193', 'Delete');
    await page.shows('It was never issued, so no attempt is lost.');
    await page.press('Delete it for good');
    await shownAre(all);
  });

  it('puts an exercise away, out of sight until it is asked for', async () => {
    await more('SB-103', 'Put away');
    await shownAre(all - 1);
    await page.choose('Show', 'Put away');
    await shownAre(1);
    await more('SB-103', 'Take out again');
    await page.shows('No exercise is like this.');
    await page.choose('Show', 'All');
    await shownAre(all);
  });
});
