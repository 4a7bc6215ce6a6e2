// e2e/_look.ts
import { writeFileSync } from "node:fs";
import { By as By2, Key } from "selenium-webdriver";

// e2e/browser.ts
import { existsSync } from "node:fs";
import { logging } from "selenium-webdriver";
import chrome from "selenium-webdriver/chrome.js";
var firstOf = (paths) => {
  const found = paths.find((path) => existsSync(path));
  if (found === void 0) throw new Error(`none of these is installed: ${paths.join(", ")}; bin/test installs it`);
  return found;
};
async function openBrowser({ width, height } = { width: 1280, height: 800 }) {
  const options = new chrome.Options();
  options.setChromeBinaryPath(firstOf(["/usr/bin/chromium", "/usr/bin/chromium-browser"]));
  options.addArguments(
    "--headless=new",
    "--no-sandbox",
    "--disable-dev-shm-usage",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--no-first-run",
    "--disable-quic",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-device-scale-factor=1",
    "--hide-scrollbars",
    `--window-size=${String(width)},${String(height)}`
  );
  const log = new logging.Preferences();
  log.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  options.setLoggingPrefs(log);
  const driver2 = chrome.Driver.createSession(
    options,
    new chrome.ServiceBuilder(firstOf(["/usr/bin/chromedriver"])).build()
  );
  await driver2.sendDevToolsCommand("Emulation.setDeviceMetricsOverride", {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false
  });
  return driver2;
}

// e2e/pages.ts
import { By, until } from "selenium-webdriver";
var PATIENCE_MS = 1e5;
var Page = class {
  driver;
  baseUrl;
  constructor(driver2, baseUrl) {
    this.driver = driver2;
    this.baseUrl = baseUrl;
  }
  async open(path) {
    await this.driver.get(new URL(path, this.baseUrl).href);
  }
  async find(locator) {
    try {
      return await this.driver.wait(until.elementLocated(locator), PATIENCE_MS);
    } catch (error) {
      throw new Error(`${String(error)}
The page says:
${await this.text()}`, { cause: error });
    }
  }
  async text() {
    return this.driver.findElement(By.css("body")).getText();
  }
  /** Waits until the page shows a text. */
  async shows(text) {
    try {
      await this.driver.wait(async () => (await this.text().catch(() => "")).includes(text), PATIENCE_MS);
    } catch (error) {
      throw new Error(`"${text}" does not appear.
The page says:
${await this.text()}`, { cause: error });
    }
  }
  button(name) {
    return this.find(By.xpath(`//button[normalize-space(.)=${quote(name)} or @aria-label=${quote(name)}]`));
  }
  link(name) {
    return this.find(By.xpath(`//a[contains(normalize-space(.), ${quote(name)})]`));
  }
  /** The input or select that a visible label belongs to. */
  async field(label) {
    const found = await this.find(By.xpath(`//label[normalize-space(.)=${quote(label)}]`));
    return this.find(By.id(await found.getAttribute("for") ?? ""));
  }
  async press(name) {
    await (await this.button(name)).click();
  }
  async fill(label, text) {
    const field = await this.field(label);
    await field.clear();
    await field.sendKeys(text);
  }
  async signIn(login, password) {
    await this.open("/");
    await this.fill("Sign-in name", login);
    await this.fill("Password", password);
    await this.press("Sign in");
    await this.find(By.css('nav[aria-label="Main"]'));
  }
  async signOut() {
    await this.press("Sign out");
    await this.field("Sign-in name");
  }
  /** Waits for the 3D view and gives its canvas. */
  canvas() {
    return this.find(By.css('[data-testid="viewer"] canvas'));
  }
  /** Lets the page draw what it has been told: two frames of the browser. */
  async settle() {
    await this.driver.executeAsyncScript(
      "const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 350)));"
    );
  }
};
var quote = (text) => text.includes("'") ? `"${text}"` : `'${text}'`;

// e2e/_look.ts
var driver = await openBrowser();
var page = new Page(driver, "http://127.0.0.1:4310");
var shot = async (n) => {
  await page.settle();
  writeFileSync(`/tmp/shots/${n}.png`, Buffer.from(await driver.takeScreenshot(), "base64"));
};
try {
  await page.open("/");
  await page.signIn("orla", "tidewater");
  await page.open("/exercises");
  await page.press("New exercise");
  const n = "T" + Date.now() % 1e5;
  await page.fill("Number", n);
  await page.fill("Title", "Trial");
  await page.press("Begin");
  await page.shows("The part is empty");
  const add = async (s) => {
    await page.press("Add a step");
    await (await page.find(By2.css('[aria-label="Search operations"]'))).sendKeys(s, Key.ENTER);
    await page.find(By2.css('[data-testid="step-form"]'));
  };
  await add("block");
  await new Promise((r) => setTimeout(r, 2500));
  await add("drill");
  await new Promise((r) => setTimeout(r, 1500));
  const drawnOn = await page.field("Drawn on");
  console.log("before", await drawnOn.getAttribute("value"));
  await drawnOn.sendKeys("side plane");
  await new Promise((r) => setTimeout(r, 1e3));
  console.log("after keys", await drawnOn.getAttribute("value"));
  await page.press("Pick drawn on in the part");
  await page.shows("Pick a surface in the part.");
  await shot("pick1");
  await driver.actions().move({ origin: await page.canvas() }).click().perform();
  await new Promise((r) => setTimeout(r, 1500));
  console.log("after pick", await drawnOn.getAttribute("value"));
  await shot("pick2");
} catch (e) {
  console.log(String(e).slice(0, 800));
  await shot("error");
} finally {
  await driver.quit();
}
