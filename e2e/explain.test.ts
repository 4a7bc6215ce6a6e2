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
beforeAll(async () => {
  driver = await openBrowser();
  page = new Page(driver, ownServer());
  await page.open('/');
  await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  await page.find(By.css('[data-testid="needs"]'));
});
afterAll(async () => {
  await driver.quit();
});

const openAssignment = async (): Promise<void> => {
  await page.open('/');
  await (
    await page.find(
      By.xpath("//a[contains(@href,'/assignments/') and contains(.,'SB-202') and contains(.,'Evening bench')]"),
    )
  ).click();
  await page.find(By.css('[data-testid="common-causes"]'));
};

describe('an instructor goes through a class', () => {
  it('sees what went wrong, with whom, and why', async () => {
    await openAssignment();
    await page.click(By.xpath("//*[@data-testid='common-causes']//button[contains(., 'two letters')]"));
    await page.follow('Ida Joiner');
    await page.shows('The values of A and B were mixed up');
    await page.shows('explains the part completely');
  });

  it('sees two mistakes that were made together', async () => {
    await openAssignment();
    await page.follow('Vera Warp');
    await page.shows('Was the diameter typed where the radius is asked?');
    await page.shows('the counterbore is missing');
  });

  it('looks at another way of scoring, sets it, and goes back', async () => {
    await openAssignment();
    await page.press('Scoring');
    await page.press('Key number');
    await page.shows('scores change');
    await page.fill('Off for coming late', '-5');
    await page.shows('From 0 to 100.');
    await page.fill('Off for coming late', '10');
    await driver.wait(async () => !(await page.text()).includes('From 0 to 100.'), 20_000);
    const scores = async () => page.text();
    expect(await scores()).toContain('Aldo Brink');
    await page.press('Score it this way');
    await page.shows('scores changed.');
    await openAssignment();
    await page.press('Scoring');
    await page.press('As the exercise says');
    await page.shows('scores changed.');
  });
});

describe('the check plan', () => {
  it('is tested with every mistake, and gets a check that it lacks', async () => {
    await page.open('/exercises');
    await page.follow('SB-202');
    await page.click(By.xpath("//*[@role='tab'][normalize-space(.)='Mistakes']"));
    await page.find(By.css('[data-testid="coverage"]'));
    await page.shows('by a check that says where');
    const add = By.xpath("//button[contains(normalize-space(.), 'Add the check')]");
    const words = /"(.*)"/.exec(await (await page.find(add)).getText())?.[1] ?? '';
    await page.click(add);
    await page.shows(`"${words}" is in the draft. Make a revision to issue it.`);
    // Once more after the page was opened anew: it is there already, and is there once.
    await driver.navigate().refresh();
    await page.click(By.xpath("//*[@role='tab'][normalize-space(.)='Mistakes']"));
    await page.press(`Add the check "${words}"`);
    await page.shows(`"${words}" is in the draft.`);
    await page.follow('Make a revision');
    await page.find(By.xpath("//*[@role='tab'][normalize-space(.)='Check plan']"));
  });
});
