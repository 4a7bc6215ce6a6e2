import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { strToU8, zipSync } from 'fflate';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR } from '#demo/course';

import { openBrowser } from './browser.ts';
import { startEmpty } from './empty-server.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

const PASSWORD = 'otter lamp quay';

let driver: WebDriver;
let page: Page;
keepFailures(() => page);

const main = By.css('nav[aria-label="Main"]');
const rowsOf = async (): Promise<string> => (await page.find(By.css('table'))).getText();

describe('a new instructor, from an empty folder', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-empty-'));
  let server: ChildProcess;
  let code: string;
  beforeAll(async () => {
    const started = await startEmpty(folder);
    ({ server, code } = started);
    driver = await openBrowser();
    page = new Page(driver, started.baseUrl);
  });
  afterAll(async () => {
    await driver.quit();
    server.kill('SIGTERM');
    rmSync(folder, { recursive: true, force: true });
  });

  it('makes the first account and course with the code of the console', async () => {
    await page.open('/');
    await page.shows('Nobody has an account here yet');
    for (const [label, text] of [
      ['Code', '0000-0000-0000'],
      ['Your name', 'Orla Fenwick'],
      ['Sign-in name', 'orla'],
      ['Password', PASSWORD],
      ['School', 'Saltmarsh Boatbuilding School'],
      ['Course', 'Fittings 1'],
      ['Section', 'Morning bench'],
    ] as const)
      await page.fill(label, text);
    await page.press('Begin');
    await page.shows('This is not the code');
    await page.fill('Code', code);
    await page.press('Begin');
    await page.find(main);
    await page.shows('Nothing is issued yet');
  });

  it('sees what a list of students changes before it does, and takes it back', async () => {
    await page.follow('People');
    await page.follow('Morning bench');
    await page.shows('Nobody belongs to it yet');
    await page.press('Add students');
    await page.fill('List of students', 'Brody, Ansel\nBettina Crane\n17\nCorin Dale');
    await page.press('See what changes');
    await page.shows('3 students would be added');
    await page.shows('There is no name in it');
    await page.press('Do it');
    await page.shows('3 students never signed in');
    expect(await rowsOf()).toContain('Ansel Brody ansel');
    await page.press('Take it back');
    await page.shows('Nobody belongs to it yet');
    await page.press('Add students');
    await page.fill('List of students', 'Ansel Brody\nBettina Crane');
    await page.press('See what changes');
    await page.press('Do it');
    await page.shows('2 students never signed in');
  });

  it('is told what to do about a workbook where a list is asked for, and closes the dialog by its button', async () => {
    const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-list-'));
    const file = path.join(folder, 'list.csv');
    writeFileSync(file, zipSync({ 'xl/workbook.xml': strToU8('<workbook/>') }));
    await page.press('Add students');
    await page.fill('List of students', 'Corin Dale');
    const input = await driver.findElement(By.css('[data-testid="list-file"]'));
    await input.sendKeys(file);
    await page.shows('Save its sheet as CSV');
    expect(await (await page.field('List of students')).getAttribute('value')).toBe('');
    await page.click(By.css('[role="dialog"] button[aria-label="Close"]'));
    await driver.wait(async () => (await driver.findElements(By.css('[role="dialog"]'))).length === 0, 60_000);
    rmSync(folder, { recursive: true });
  });

  it('gives a student a code, who signs in with it the first time and chooses a password', async () => {
    await page.press('New code for Ansel Brody');
    const slip = await (await page.find(By.css('td [role="status"] b'))).getText();
    await page.signOut();
    await page.follow('I have a slip with a code');
    await page.fill('Code of your slip', slip.toUpperCase());
    await page.fill('Choose a password', 'password');
    await page.press('Sign in');
    await page.shows('first that would be tried');
    await page.fill('Choose a password', PASSWORD);
    await page.press('Sign in');
    await page.find(main);
    await page.shows('Nothing is due');
    await page.signOut();
    await page.signIn('ansel', PASSWORD);
    await page.shows('Nothing is due');
    await page.signOut();
  });

  it('reads in the log of the course what was changed, and by whom', async () => {
    await page.signIn('orla', PASSWORD);
    await page.follow('People');
    await page.press('Log');
    await page.shows('list of students taken back');
    await page.shows('first account orla');
    await page.open('/people');
    await page.signOut();
  });

  it('lets students join by a link, and closes it again', async () => {
    await page.signIn('orla', PASSWORD);
    await page.open('/people/sections/1');
    await page.click(By.css('input[type="checkbox"]'));
    const link = await (await page.find(By.css('code'))).getText();
    await page.signOut();
    await driver.get(link);
    await page.shows('Join Fittings 1, Morning bench');
    await page.fill('Your name', 'Gil Hesper');
    await page.fill('Sign-in name', 'ansel');
    await page.fill('Password', PASSWORD);
    await page.press('Join');
    await page.shows('Somebody signs in as "ansel" already');
    await page.fill('Sign-in name', 'gil');
    await page.press('Join');
    await page.shows('Nothing is due');
    await page.signOut();
    await page.signIn('orla', PASSWORD);
    await page.open('/people/sections/1');
    await page.shows('3 students');
    await page.click(By.css('input[type="checkbox"]'));
    await driver.wait(async () => (await driver.findElements(By.css('code'))).length === 0, 60_000);
  });

  it('changes the own password', async () => {
    await page.press('Orla Fenwick');
    await page.fill('Password until now', 'wrong one here');
    await page.fill('New password', 'rope dinghy cleat');
    await page.press('Change the password');
    await page.shows('not your password until now');
    await page.fill('Password until now', PASSWORD);
    await page.press('Change the password');
    await page.shows('your new password holds');
    await page.signOut();
    await page.signIn('orla', 'rope dinghy cleat');
  });
});

describe('an instructor of a course that runs', () => {
  beforeAll(async () => {
    driver = await openBrowser();
    page = new Page(driver, ownServer());
    await page.signIn(INSTRUCTOR.login, INSTRUCTOR.password);
  });
  afterAll(() => driver.quit());

  it('reads the grades of all, finds a student, and goes to the attempt', async () => {
    await page.follow('Grades');
    await page.find(By.css('[data-testid="gradebook"]'));
    await page.shows('38 students');
    await page.fill('Student', 'bettina');
    await driver.wait(
      async () => (await driver.findElements(By.css('[data-testid="gradebook"] tbody tr'))).length === 1,
      60_000,
    );
    await page.follow('Bettina Crane');
    await page.find(By.css('[data-testid="student-work"]'));
    await page.shows('of 100 in the mean');
    await page.click(By.css('[data-testid="student-work"] td a'));
    await page.shows('Bettina Crane');
  });

  it('sees what a class needs: by mistake, exercise and check, down to the attempts, and on a page for the wall', async () => {
    await page.follow('Grades');
    await page.follow('What the class needs');
    await page.shows('Most often: ');
    await page.click(By.xpath('//button[contains(., "SB-101")]'));
    await page.shows('Checks on first attempts');
    await page.click(By.xpath('//summary[contains(., "radius typed for a diameter")]'));
    await page.click(By.xpath('//details[contains(., "radius typed for a diameter")]//a[contains(., "Ansel Brody")]'));
    await page.shows('Ansel Brody');
    expect(await driver.getCurrentUrl()).toMatch(/\/attempts\/\d+$/);
    await page.follow('Grades');
    await page.follow('What the class needs');
    await page.follow('A page for the wall');
    await page.shows('What went wrong this week');
    expect(await page.text()).not.toContain('Ansel');
    await page.follow('Grades');
  });

  it('weighs groups of assignments, leaves the lowest out, gives letters, and takes it back', async () => {
    await page.follow('Grades');
    await page.shows('All assignments count alike.');
    await page.press('How grades come about');
    await page.press('Add a group');
    await page.press('Save');
    await page.shows('Give each group a name.');
    await page.fill('Name', 'Weekly parts');
    await page.fill('Lowest out', '1');
    await page.shows('grades of ');
    await page.press('Use letters');
    await page.click(By.xpath('//*[@data-testid="grade-changes"]//summary[contains(., "Bettina Crane")]'));
    await page.shows('Left out now: SB-');
    await page.press('Save');
    await page.shows('Weekly parts 100 % (the lowest left out).');
    await driver.wait(
      async () => (await driver.findElements(By.css('[data-testid="gradebook"] tbody s'))).length > 0,
      60_000,
    );
    await page.follow('Bettina Crane');
    await page.shows('the lowest left out, counts 100 % of the grade.');
    await page.shows('Bettina Crane: A');
    await page.press('Undo');
    // Each assignment counts alike again, and no letter is given.
    await page.shows('of 100 in the mean');
  });

  it('finds a student among the attempts of a large section', async () => {
    await page.open('/desk');
    await page.toAssignment('SB-202', 'Evening bench');
    await page.fill('Find a student', 'karin');
    const names = By.css('[data-testid="attempts"] tbody a');
    await driver.wait(async () => (await driver.findElements(names)).length === 1, 60_000);
    expect(await (await page.find(names)).getText()).toBe('Karin Loft');
    await page.fill('Find a student', 'nobody');
    await page.shows('No student of that name has handed in.');
  });

  it('gives one student more time, which that student sees, and takes it back', async () => {
    await page.open('/desk');
    await page.toAssignment('SB-101');
    await page.press('Give an extension');
    await page.click(By.xpath('//option[.="Ansel Brody"]'));
    await page.fill('More attempts', '2');
    await page.press('Give it');
    await page.shows('Say why, in a few words.');
    await page.fill('Reason', 'Was ill for a week.');
    await page.press('Give it');
    await page.shows('1 extension');
    await page.shows('Was ill for a week. (Orla Fenwick)');
    await page.press('Take back');
    await page.shows('No extensions');
  });

  it('compares all hand-ins, and is told that right parts say nothing', async () => {
    await page.press('Compare them');
    await page.shows('hand-ins that chance does not explain.');
  });

  it('reads the own due dates in a calendar program, by an address that can be changed', async () => {
    await page.press(INSTRUCTOR.name);
    const address = await (await page.field('Due dates for a calendar program')).getAttribute('value');
    expect(await (await fetch(address ?? '')).text()).toMatch(/SUMMARY:SB-101 Cleat plate is due/);
    await page.press('Make a new address');
    await page.shows('The address is a new one.');
    expect((await fetch(address ?? '')).status).toBe(404);
    await driver.actions().sendKeys(Key.ESCAPE).perform();
  });

  it('erases a student only by the sign-in name, after which nothing is there', async () => {
    await page.follow('Grades');
    await page.fill('Student', 'nils');
    await page.follow('Nils Osprey');
    await page.press('Erase the student');
    await page.fill('Type the sign-in name nils', 'nil');
    expect(await (await page.button('Erase for good')).isEnabled()).toBe(false);
    await page.fill('Type the sign-in name nils', 'nils');
    await page.press('Erase for good');
    await page.shows('37 students');
  });

  it('finds what is new behind the bell, once', async () => {
    const bell = By.css('button[aria-label^="What is new"]');
    await page.open('/desk');
    await page.find(By.css('button[aria-label^="What is new: "]'));
    await page.click(bell);
    await page.shows('for Evening bench was due; ');
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.find(By.css('button[aria-label="What is new"]'));
    await page.click(bell);
    await page.follow('for Evening bench was due; ');
    await page.shows('handed in');
    expect(await driver.getCurrentUrl()).toMatch(/\/assignments\/\d+$/);
  });

  it('changes the due time, and withdraws the assignment for a while', async () => {
    await page.open('/desk');
    await page.toAssignment('SB-101');
    await page.press('Change dates, attempts, reports');
    await page.fill('Attempts', '7');
    await page.choose('Each report reaches its student', 'When I accept it');
    await page.press('Save the change');
    await page.shows('7, the best counts');
    await page.press('Change dates, attempts, reports');
    await page.choose('Each report reaches its student', 'As soon as it is measured');
    await page.shows('Until now: When I accept it.');
    await page.press('Save the change');
    await page.press('Change dates, attempts, reports');
    await page.press('Withdraw it');
    await page.shows('students do not see it');
    await page.press('Change dates, attempts, reports');
    await page.press('Show it to students again');
    await driver.wait(async () => !(await page.text()).includes('students do not see it'), 60_000);
  });
});
