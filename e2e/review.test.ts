import { By, Key, type WebDriver } from 'selenium-webdriver';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR, STUDENT_PASSWORD } from '#demo/course';
import { cleatPlateExercise } from '#demo/exercises';
import { logLikeStudent } from '#demo/workbench';

import { openBrowser } from './browser.ts';
import { model } from './models.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);
let other: WebDriver;
let student: Page;
beforeAll(async () => {
  [driver, other] = await Promise.all([openBrowser(), openBrowser()]);
  page = new Page(driver, ownServer());
  student = new Page(other, ownServer());
  await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
});
afterAll(async () => {
  await Promise.all([driver.quit(), other.quit()]);
});

const ASSIGNMENT = (exercise: string, section: string) =>
  By.xpath(`//a[contains(@href,'/assignments/') and contains(.,'${exercise}') and contains(.,'${section}')]`);
const keys = (browser: WebDriver, ...typed: string[]) =>
  browser
    .actions()
    .sendKeys(...typed)
    .perform();
const scoreOf = async (): Promise<number> =>
  Number.parseFloat(await (await page.find(By.css('[data-testid="score"]'))).getText());

async function openReview(name: string): Promise<void> {
  await page.open('/');
  await page.click(ASSIGNMENT('SB-205', 'Evening bench'));
  await page.follow(name);
  await page.canvas();
}

describe('an instructor judges an attempt by keyboard', () => {
  it('counts a check otherwise, with a reason, and the score follows', async () => {
    await openReview('Birte Cask');
    const before = await scoreOf();
    await keys(driver, 'j');
    await page.shows('Count it otherwise');
    await keys(driver, 'o');
    await page.shows('Because');
    await page.press('Count it this way');
    await page.shows('Say why, in a few words.');
    await page.fill('Because', 'The angle was hard to read.');
    await keys(driver, Key.ENTER);
    await page.shows('counts 100 %');
    await driver.wait(async () => (await scoreOf()) > before, 60_000, 'the score did not change');
    await page.shows('Orla Fenwick counts it as 100 %: The angle was hard to read.');
    await page.press('Count it as measured');
    await driver.wait(async () => (await scoreOf()) === before, 60_000, 'the score did not go back');
  });

  it('gives the attempt back, with a reason, and lets it count again', async () => {
    const before = await scoreOf();
    await page.press('Give this attempt back');
    await page.press('Give it back');
    await page.shows('Say why, in a few words.');
    await page.fill('Why it is given back', 'The bench was needed by others.');
    await keys(driver, Key.ENTER);
    await page.shows('This attempt was given back');
    await page.shows('Given back by Orla Fenwick: The bench was needed by others.');
    await page.press('Count it again');
    await driver.wait(async () => (await scoreOf()) === before, 60_000, 'the score did not come back');
    await page.canvas();
    await keys(driver, 'j');
  });

  it('writes a remark with a mark on the model', async () => {
    await page.press('Mark a place');
    await (await page.canvas()).click();
    await page.shows('Marked on the model');
    await keys(driver, 'w');
    await keys(driver, 'Look at this corner.');
    await driver.actions().keyDown(Key.CONTROL).sendKeys(Key.ENTER).keyUp(Key.CONTROL).perform();
    await page.shows('1 remark');
    expect(await (await page.find(By.css('[data-testid="remarks"]'))).getText()).toContain('Look at this corner.');
  });

  it('takes a remark from the collection, with its fields filled', async () => {
    await (await (await page.field('or from the collection')).findElement(By.css('option:nth-child(2)'))).click();
    const text = await (await page.field('Remark to the student')).getAttribute('value');
    expect(text).toMatch(/\w/);
    expect(text).not.toMatch(/\{[a-z]+\}/);
    await page.press('Add the remark');
    await page.shows('2 remarks');
  });

  it('marks a place on the sheet', async () => {
    await page.click(By.xpath('//button[@role="tab"][.="The sheet, marked"]'));
    await page.press('Mark a place');
    await page.click(By.css('[data-sheet] svg'));
    await page.shows('Marked on the sheet');
    await page.fill('Remark to the student', 'This is the view to read.');
    await page.press('Add the remark');
    await page.find(By.css('[data-sheet] [data-pin="3"]'));
    await page.click(By.xpath('//button[@role="tab"][.="The model"]'));
    await page.canvas();
  });

  it('accepts it, and the next student is there at once', async () => {
    await driver.executeScript('document.activeElement.blur()');
    await keys(driver, 'a');
    await page.shows('the student reads this report');
    const before = await driver.getCurrentUrl();
    await keys(driver, 'n');
    await driver.wait(async () => (await driver.getCurrentUrl()) !== before, 60_000);
    await page.canvas();
    await page.shows('held back from the student');
  });

  it('sees without a reload what somebody else says about the attempt meanwhile', async () => {
    await openReview('Cajus Drey');
    const id = Number((await driver.getCurrentUrl()).split('/').at(-1));
    // Another instructor, in another window.
    const status = await driver.executeAsyncScript(
      `const [id, done] = arguments;
       fetch('/api/attempts/' + id + '/review', { method: 'POST', headers: { 'Content-Type': 'application/json' },
         body: JSON.stringify({ version: 0, action: { kind: 'remark', text: 'From another window.', pin: null } }) })
         .then((answer) => done(answer.status));`,
      id,
    );
    expect(status).toBe(200);
    await page.shows('From another window.');
    await page.shows('Not accepted yet');
  });
});

describe('a class', () => {
  it('with the same cause gets one remark together', async () => {
    await page.open('/');
    await page.click(ASSIGNMENT('SB-202', 'Evening bench'));
    await page.click(By.xpath("//*[@data-testid='common-causes']//li[1]/button"));
    await page.click(
      By.xpath("//*[@data-testid='common-causes']//button[starts-with(normalize-space(.), 'Remark to')]"),
    );
    await page.fill('Remark', '{student}: measure it from the edge that the sheet shows.');
    await page.press('Send the remark');
    await page.shows('got the remark');
  });
});

describe('a student', () => {
  afterEach(async () => {
    await student.open('/');
    if (!(await student.text()).includes('Password')) await student.signOut();
  });

  it('reads nothing of a report that is held back, and then what was released', async () => {
    await student.signIn('cajus', STUDENT_PASSWORD);
    await student.follow('Bow-roller cheek');
    await student.follow('Attempt 1');
    await student.shows('has not released it yet');
    await openReview('Cajus Drey');
    await page.press('Accept A');
    await page.shows('the student reads this report');
    // Without a reload.
    await student.shows('From another window.');
    await student.find(By.css('[data-testid="score"]'));
    expect(await student.text()).not.toContain('Show how far off');
  });

  it('says something back, and the answer comes', async () => {
    await student.signIn('birte', STUDENT_PASSWORD);
    await student.follow('Bow-roller cheek');
    await student.follow('Attempt 1');
    await student.shows('Look at this corner.');
    await student.fill('Your reply', 'Which corner do you mean?');
    await student.press('Send it');
    await student.shows('Not answered yet.');
    await page.open('/desk');
    await page.click(By.xpath("//*[@data-testid='requests']//a[contains(., 'Which corner')]"));
    await page.fill('Your answer', 'The one with the number.');
    await page.press('Answer');
    await student.shows('The one with the number.');
  });

  it('hands in how the part was built, and sees how each line is understood', async () => {
    await student.signIn('dagny', STUDENT_PASSWORD);
    await student.follow('Fairlead block');
    await student.click(By.xpath('//summary'));
    await student.fill('Build steps', 'the thing');
    await student.shows('No build step was understood');
    await student.fill('Build steps', `${logLikeStudent(cleatPlateExercise, 'lines')}\nsomething nice`);
    await student.shows('4 steps understood; 1 in other words, please.');
    await other.navigate().refresh();
    await student.shows('4 steps understood');
    const right = await model(cleatPlateExercise, { kind: 'none' }, 'dagny.step');
    await (await student.find(By.css('[data-testid="file"]'))).sendKeys(right.file);
    await student.press('Hand in');
    await student.follow('Read the report');
    await student.shows('How it was built, by list and shape');
  });

  it('is told which checks are right and no number, where the first report says no more', async () => {
    await student.signIn('ida', STUDENT_PASSWORD);
    await student.follow('Rowlock socket');
    await student.follow('Attempt 1');
    await student.find(By.css('[data-testid="report-lines"]'));
    const text = await student.text();
    expect(text).toContain('checks are not right');
    expect(text).not.toContain('Show how far off');
    expect(text).not.toContain('Why, most probably');
  });
});
