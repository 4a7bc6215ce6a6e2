import { writeFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { openBrowser } from './browser.ts';
import { Page } from './pages.ts';
const driver = await openBrowser();
const page = new Page(driver, 'http://127.0.0.1:4310');
const shot = async (n: string) => {
  await page.settle();
  writeFileSync(`/tmp/shots/${n}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
};
try {
  await page.open('/');
  await page.signIn('orla', 'tidewater');
  await page.open('/exercises');
  await page.press('New exercise');
  const n = 'T' + (Date.now() % 100000);
  await page.fill('Number', n);
  await page.fill('Title', 'Trial');
  await page.press('Begin');
  await page.shows('The part is empty');
  const add = async (s: string) => {
    await page.press('Add a step');
    await (await page.find(By.css('[aria-label="Search operations"]'))).sendKeys(s, Key.ENTER);
    await page.find(By.css('[data-testid="step-form"]'));
  };
  await add('block');
  await new Promise((r) => setTimeout(r, 2500));
  await add('drill');
  await new Promise((r) => setTimeout(r, 1500));
  const drawnOn = await page.field('Drawn on');
  console.log('before', await drawnOn.getAttribute('value'));
  await drawnOn.sendKeys('side plane');
  await new Promise((r) => setTimeout(r, 1000));
  console.log('after keys', await drawnOn.getAttribute('value'));
  await page.press('Pick drawn on in the part');
  await page.shows('Pick a surface in the part.');
  await shot('pick1');
  await driver
    .actions()
    .move({ origin: await page.canvas() })
    .click()
    .perform();
  await new Promise((r) => setTimeout(r, 1500));
  console.log('after pick', await drawnOn.getAttribute('value'));
  await shot('pick2');
} catch (e) {
  console.log(String(e).slice(0, 800));
  await shot('error');
} finally {
  await driver.quit();
}
