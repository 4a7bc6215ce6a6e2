/**
 * Walks the way of a new instructor, from an empty folder to the grades at the school's site, and prints what it took in
 * clicks, keys and minutes: `npm run walk`.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { By } from 'selenium-webdriver';

import { EVENING_STUDENTS, loginOf, STUDENTS } from '#demo/course';
import { cleatPlateExercise, fairleadBlockExercise } from '#demo/exercises';
import { registrationOf, serveStandIn } from '#demo/school-site';
import { packExercise } from '#server/archive';

import { openBrowser } from './browser.ts';
import { CountedPage } from './counted-page.ts';
import { startEmpty } from './empty-server.ts';
import { model, textFile } from './models.ts';
import { Page } from './pages.ts';

const PASSWORD = 'otter lamp quay';
const MOST_CLICKS = 150;
const MOST_MINUTES = 20;

const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-walk-'));
const { server, baseUrl, code } = await startEmpty(folder);
const site = await serveStandIn({ port: 0, hostname: '127.0.0.1' }, baseUrl);
const driver = await openBrowser();
const page = new CountedPage(driver, baseUrl);

/** What students do is not counted: each signs in for the first time with the code of a slip, and hands a model in. */
async function handIn(name: string, slip: string, file: string): Promise<void> {
  const other = await openBrowser();
  try {
    const student = new Page(other, baseUrl);
    await student.open('/');
    await student.follow('I have a slip with a code');
    await student.fill('Code of your slip', slip);
    await student.fill('Choose a password', PASSWORD);
    await student.press('Sign in');
    await student.follow('Cleat plate');
    await (await student.find(By.css('[data-testid="file"]'))).sendKeys(file);
    await student.press('Hand in');
    await student.shows('Read the report');
  } catch (error) {
    throw new Error(`${name} could not hand in: ${String(error)}`, { cause: error });
  } finally {
    await other.quit();
  }
}

const tab = (name: string): Promise<void> => page.click(By.xpath(`//button[@role="tab"][.="${name}"]`));

async function begin(): Promise<void> {
  await page.open('/');
  for (const [label, text] of [
    ['Code', code],
    ['Your name', 'Orla Fenwick'],
    ['Sign-in name', 'orla'],
    ['Password', PASSWORD],
    ['School', 'Saltmarsh Boatbuilding School'],
    ['Course', 'Fittings 1'],
    ['Section', 'Morning bench'],
  ] as const)
    await page.fill(label, text);
  await page.press('Begin');
  await page.shows('Nothing is issued yet');
}

async function addStudents(): Promise<void> {
  await page.follow('People');
  await page.follow('Morning bench');
  await page.press('Add students');
  const people = [...STUDENTS, ...EVENING_STUDENTS].slice(0, 30);
  await page.paste('List of students', people.map((name) => `${name}, ${loginOf(name)}@saltmarsh.example`).join('\n'));
  await page.press('See what changes');
  await page.shows('30 students would be added');
  await page.press('Do it');
  await page.shows('30 students never signed in');
  await page.press('Print slips for first sign-ins');
}

async function importExercise(file: string): Promise<void> {
  await page.follow('Exercises');
  await page.chooseFile('import', file);
  await page.canvas();
  await page.press('Make a revision');
  await page.shows('Issue to a section');
}

async function makeExercise(): Promise<void> {
  await page.follow('Exercises');
  await page.press('New exercise');
  await page.fill('Number', 'SB-106');
  await page.fill('Title', 'Spacer');
  await page.press('Begin');
  await page.shows('The part is empty');
  for (const [letter, value] of [
    ['A', '60'],
    ['B', '30'],
  ] as const) {
    await page.press('Letter');
    await page.type(`Value of ${letter}`, value);
  }
  await page.addStep('block');
  await page.type('Width', 'A');
  await page.type('Height', 'B');
  await page.type('Depth', '12');
  await tab('Check plan');
  await page.press('Suggest a plan');
  await page.shows('weights add up to 100');
  await tab('Sheet');
  await page.find(By.css('[data-sheet] svg'));
  await page.press('Make a revision');
  await page.shows('Issue to a section');
}

async function issueSeries(): Promise<void> {
  await page.follow('Exercises');
  await page.follow('Issue a series');
  await page.click(By.xpath('//label[contains(., "Morning bench")]'));
  const today = new Date().toLocaleDateString('en-US', { weekday: 'short' });
  await page.click(By.xpath(`//label[normalize-space(.)="${today}"]`));
  await page.setTime('Opens at', '00:00');
  // Otherwise exact grades wait until nothing can be handed in any more.
  await page.choose('Answers that are not on the sheet', 'With each report');
  for (const number of ['SB-101', 'SB-102', 'SB-106']) await page.click(By.css(`input[aria-label^="Issue ${number}"]`));
  await page.press('Issue 3 exercises');
  await page.find(By.xpath('//a[starts-with(@href, "/assignments/")][contains(., "SB-106")]'));
}

const openAssignment = async (): Promise<void> => {
  await page.follow('Desk');
  await page.toAssignment('SB-101');
  await page.find(By.xpath('//button[.="Give an extension"]'));
};

/** Three students hand in: two are right, one has a wrong hole. */
async function studentsWork(): Promise<void> {
  const works = [
    ['Ansel Brody', { kind: 'none' }],
    ['Bettina Crane', { kind: 'radius-for-diameter', step: 'bolts', hole: 3 }],
    ['Corin Dale', { kind: 'none' }],
  ] as const;
  await page.open('/people/sections/1');
  for (const [name, slip] of works) {
    await page.press(`New code for ${name}`);
    const printed = await (
      await page.find(By.xpath(`//tr[contains(., "${name}")]//td//*[@role="status"]//b`))
    ).getText();
    await handIn(name, printed, (await model(cleatPlateExercise, slip, `${name} SB-101.step`)).file);
  }
}

async function extend(): Promise<void> {
  await openAssignment();
  await page.press('Give an extension');
  await page.choose('Student', 'Dagny Elm');
  await page.fill('More attempts', '1');
  await page.fill('Reason', 'Was ill for a week.');
  await page.press('Give it');
  await page.shows('1 extension');
}

async function correctKey(): Promise<void> {
  await page.follow('Exercises');
  await page.follow('SB-101');
  await page.follow('Edit');
  await page.canvas();
  await page.type('Value of C', '12');
  await page.press('Make a revision');
  await page.shows('Issue to a section');
  await openAssignment();
  await page.press('Put it in its place');
  await page.fill('Reason', 'The thickness is twelve.');
  await page.press('Correct it');
  await page.find(By.css('[data-testid="correction"]'));
}

async function readGrades(): Promise<void> {
  await page.follow('Grades');
  await page.find(By.css('[data-testid="gradebook"]'));
  await page.follow('Workbook (XLSX)');
  await page.follow('Table (CSV)');
}

async function connectSite(): Promise<void> {
  await page.open('/service/school-site');
  await page.press('Register a site');
  const { name, issuer, clientId, deploymentId, signInUrl, tokenUrl, keysUrl } = registrationOf(site.origin);
  for (const [label, text] of [
    ['Name', name],
    ['Issuer', issuer],
    ['Client', clientId],
    ['Deployment', deploymentId],
    ['Sign-in address', signInUrl],
    ['Token address', tokenUrl],
    ['Keys', keysUrl],
  ] as const)
    await page.paste(label, text);
  await page.press('Register');
  await page.shows(`${name} is registered`);
  await driver.get(site.origin);
  await page.press('Orla Fenwick');
  await page.follow('all exercises of the course');
  await page.fill('Sign-in name', 'orla');
  await page.fill('Password', PASSWORD);
  await page.press('This is my account');
  await page.choose('Section', 'Fittings 1, Morning bench');
  await page.press('Connect the course');
  await page.shows('Desk');
}

async function sendGrades(): Promise<void> {
  await driver.get(site.origin);
  await page.press('Orla Fenwick');
  await page.follow('Add exercises of Zorvet');
  await page.click(By.xpath('//label[contains(., "SB-101")]'));
  await page.press('Take it to Saltmarsh campus');
  await page.follow('SB-101 Cleat plate');
  await page.shows('None was sent yet.');
  await page.click(By.xpath('//button[starts-with(normalize-space(.), "Send ")]'));
  await page.shows('Nothing to send');
}

const [cleat, fairlead] = [cleatPlateExercise, fairleadBlockExercise].map((exercise) =>
  textFile(`${exercise.number}.zip`, packExercise(exercise, null)),
);

try {
  await page.stage('First account and course', begin);
  await page.stage('Thirty students, slips printed', addStudents);
  await page.stage('Two exercises from files', async () => {
    await importExercise(cleat ?? '');
    await importExercise(fairlead ?? '');
  });
  await page.stage('An exercise of one’s own', makeExercise);
  await page.stage('Three issued over three weeks', issueSeries);
  await page.uncounted(studentsWork);
  await page.stage('An extension', extend);
  await page.stage('A wrong key corrected', correctKey);
  await page.stage('Grades as workbook and table', readGrades);
  await page.stage('The school’s site connected', connectSite);
  await page.stage('Grades sent to it', sendGrades);
  const { lines, clicks, minutes } = page.account();
  process.stdout.write(`${lines.join('\n')}\n`);
  const isWithin = clicks < MOST_CLICKS && minutes < MOST_MINUTES;
  process.stdout.write(
    `${isWithin ? 'Within' : 'NOT within'} ${String(MOST_CLICKS)} clicks and ${String(MOST_MINUTES)} minutes.\n`,
  );
  process.exitCode = isWithin ? 0 : 1;
} catch (error) {
  writeFileSync('walk-failed.png', Buffer.from(await driver.takeScreenshot(), 'base64'));
  throw error;
} finally {
  await driver.quit();
  site.close();
  server.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
}
