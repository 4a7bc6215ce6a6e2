import { writeFileSync } from 'node:fs';
import { By, logging } from 'selenium-webdriver';
import { openBrowser } from './browser.ts';
import { Page } from './pages.ts';
const driver = await openBrowser();
const page = new Page(driver, 'http://127.0.0.1:4310');
const shot = async (n: string) => { await page.settle(); writeFileSync(`/tmp/shots/${n}.png`, Buffer.from(await driver.takeScreenshot(), 'base64')); };
try {
  await page.open('/'); await page.signIn('orla', 'tidewater');
  const id = process.argv[2] ?? '1';
  const t = Date.now();
  await page.open(`/exercises/${id}/edit`);
  await page.canvas();
  console.log('editor with part after', Date.now() - t, 'ms');
  console.log(await (await page.find(By.css('[data-testid="figures"]'))).getText());
  const step = process.argv[3];
  if (step) await (await page.find(By.xpath(`(//ol[@data-testid="steps"]/li)[${step}]//button[@aria-expanded]`))).click();
  await new Promise((r) => setTimeout(r, 1500));
  await shot('edit');
  for (const tab of (process.argv[4] ?? '').split(',').filter(Boolean)) {
    await (await page.find(By.xpath(`//button[@role="tab"][.=${JSON.stringify(tab)}]`))).click();
    await new Promise((r) => setTimeout(r, 3500));
    await shot(tab.replace(/\W/g, '_'));
  }
} catch (e) { console.log(String(e).slice(0, 1500)); await shot('error'); }
finally {
  try { for (const e of await driver.manage().logs().get(logging.Type.BROWSER)) console.log(e.level.name, e.message.slice(0, 400)); } catch {}
  await driver.quit();
}
