/** The school's site beside Zorvet: registered, its course connected, links chosen, grades sent, people coming in. */
import { By, type WebDriver } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { INSTRUCTOR, OTHER_INSTRUCTOR } from '#demo/course';
import { registrationOf, serveStandIn } from '#demo/school-site';

import { openBrowser } from './browser.ts';
import { keepFailures } from './failures.ts';
import { Page } from './pages.ts';
import { ownServer } from './server.ts';

let driver: WebDriver;
let page: Page;
let site: Awaited<ReturnType<typeof serveStandIn>>;
keepFailures(() => page);

/** Becomes somebody at the site, and follows a link of its course. */
async function follows(name: string, link: string): Promise<void> {
  await driver.get(site.origin);
  await page.press(name);
  await page.follow(link);
}

describe('the site of the school', () => {
  beforeAll(async () => {
    driver = await openBrowser();
    page = new Page(driver, ownServer());
    site = await serveStandIn({ port: 0, hostname: '127.0.0.1' }, ownServer());
  });
  afterAll(async () => {
    await driver.quit();
    site.close();
  });

  it('is registered by whoever looks after the service, who hears what is missing', async () => {
    await page.signIn(OTHER_INSTRUCTOR.login, OTHER_INSTRUCTOR.password);
    await page.open('/service/school-site');
    await page.shows(`${ownServer()}/lti/launch`);
    await page.press('Register a site');
    const { name, issuer, clientId, deploymentId, signInUrl, tokenUrl, keysUrl } = registrationOf(site.origin);
    await page.fill('Name', name);
    await page.fill('Issuer', issuer);
    await page.fill('Client', clientId);
    await page.fill('Deployment', deploymentId);
    await page.fill('Sign-in address', 'campus');
    await page.press('Register');
    await page.shows('This is no address');
    await page.fill('Sign-in address', signInUrl);
    await page.fill('Token address', tokenUrl);
    await page.fill('Keys', keysUrl);
    await page.press('Register');
    await page.shows('Saltmarsh campus is registered');
    await page.signOut();
  });

  it('tells students to wait as long as their course is no section', async () => {
    await follows('Ansel Brody', 'all exercises of the course');
    await page.shows('not connected with a section here yet');
  });

  it('connects its instructor once, and the course with a section', async () => {
    await follows(INSTRUCTOR.name, 'all exercises of the course');
    await page.shows('You come as Orla Fenwick');
    await page.fill('Sign-in name', INSTRUCTOR.login);
    await page.fill('Password', 'not this one');
    await page.press('This is my account');
    await page.shows('do not belong together');
    await page.fill('Password', INSTRUCTOR.password);
    await page.press('This is my account');
    await page.choose('Section', 'Fittings 1, Morning bench');
    await page.press('Connect the course');
    await page.shows('Desk');
    expect(await driver.getCurrentUrl()).toBe(`${ownServer()}/desk`);
  });

  it('takes chosen assignments as links, and their grades', async () => {
    await follows(INSTRUCTOR.name, 'Add exercises of Zorvet');
    await page.click(By.xpath('//label[contains(., "SB-101")]'));
    await page.press('Take it to Saltmarsh campus');
    await page.follow('SB-101 Cleat plate');
    await page.shows('None was sent yet.');
    await page.click(By.xpath('//button[starts-with(normalize-space(.), "Send ")]'));
    await page.shows('Nothing to send');
    await driver.get(`${site.origin}/course`);
    await page.shows('66.1 of 100');
  });

  it('lets its students in without a password, to the exercise of the link', async () => {
    await follows('Bettina Crane', 'SB-101');
    await page.shows('Bettina Crane');
    expect(await driver.getCurrentUrl()).toMatch(/\/my\/\d+$/);
  });

  it('lends its class list to the section', async () => {
    await follows(INSTRUCTOR.name, 'all exercises of the course');
    await page.follow('People');
    await page.follow('Morning bench');
    await page.press('Add students');
    await page.press('From Saltmarsh campus');
    await page.press('See what changes');
    await page.shows('Tove Quayle');
  });
});
