import { writeFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { openBrowser } from './browser.ts';
import { Page } from './pages.ts';
const driver = await openBrowser({ width: 1280, height: 800 });
const page = new Page(driver, 'http://localhost:4310');
const shot = async (name: string) => {
  await page.settle();
  writeFileSync(`/tmp/w/p/${name}.png`, await driver.takeScreenshot(), 'base64');
};
void Key;
try {
  await page.signIn('ansel', 'saltmarsh');
  await page.open('/my/2/read');
  await page.find(By.css('[data-testid="question"]'));
  await page.find(By.css('[data-sheet] svg'));
  for (let i = 0; i < 9; i++) {
    const text = await page.text();
    if (i === 3 || text.includes('Where is it seen')) await shot(`read${i}`);
    await driver.actions().sendKeys('1').perform();
    await page.find(By.css('[data-testid="why"]'));
    if (i === 0) await shot('read-why');
    await driver.actions().sendKeys('n').perform();
    await page.settle();
  }
  await page.signOut();
  await page.signIn('orla', 'tidewater');
  await page.open('/exercises');
  await page.follow('SB-103');
  await page.press('Issue to a section');
  await page.settle();
  await shot('issue');
} catch (e) {
  console.log(String(e));
  await shot('fail');
}
await driver.quit();
