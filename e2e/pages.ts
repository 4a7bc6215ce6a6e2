import { By, until, type WebDriver, type WebElement } from 'selenium-webdriver';

/** Long enough for a cold kernel on a busy machine; nothing waits this long when things go well. */
const PATIENCE_MS = 100_000;

/** Drives the pages as a person does: by labels, names of controls and texts. */
export class Page {
  readonly driver: WebDriver;
  private readonly baseUrl: string;
  constructor(driver: WebDriver, baseUrl: string) {
    this.driver = driver;
    this.baseUrl = baseUrl;
  }

  async open(path: string): Promise<void> {
    await this.driver.get(new URL(path, this.baseUrl).href);
  }

  async find(locator: By): Promise<WebElement> {
    try {
      return await this.driver.wait(until.elementLocated(locator), PATIENCE_MS);
    } catch (error) {
      throw new Error(`${String(error)}\nThe page says:\n${await this.text()}`, { cause: error });
    }
  }

  async text(): Promise<string> {
    return this.driver.findElement(By.css('body')).getText();
  }

  /** Waits until the page shows a text. */
  async shows(text: string): Promise<void> {
    try {
      await this.driver.wait(async () => (await this.text().catch(() => '')).includes(text), PATIENCE_MS);
    } catch (error) {
      throw new Error(`"${text}" does not appear.\nThe page says:\n${await this.text()}`, { cause: error });
    }
  }

  button(name: string): Promise<WebElement> {
    return this.find(By.xpath(`//button[normalize-space(.)=${quote(name)} or @aria-label=${quote(name)}]`));
  }

  link(name: string): Promise<WebElement> {
    return this.find(By.xpath(`//a[contains(normalize-space(.), ${quote(name)})]`));
  }

  /** The input or select that a visible label belongs to. */
  async field(label: string): Promise<WebElement> {
    const found = await this.find(By.xpath(`//label[normalize-space(.)=${quote(label)}]`));
    return this.find(By.id((await found.getAttribute('for')) ?? ''));
  }

  async press(name: string): Promise<void> {
    await (await this.button(name)).click();
  }

  async fill(label: string, text: string): Promise<void> {
    const field = await this.field(label);
    await field.clear();
    await field.sendKeys(text);
  }

  async signIn(login: string, password: string): Promise<void> {
    await this.open('/');
    await this.fill('Sign-in name', login);
    await this.fill('Password', password);
    await this.press('Sign in');
    await this.find(By.css('nav[aria-label="Main"]'));
  }

  async signOut(): Promise<void> {
    await this.press('Sign out');
    await this.field('Sign-in name');
  }

  /** Waits for the 3D view and gives its canvas. */
  canvas(): Promise<WebElement> {
    return this.find(By.css('[data-testid="viewer"] canvas'));
  }

  /** Lets the page draw what it has been told: two frames of the browser. */
  async settle(): Promise<void> {
    await this.driver.executeAsyncScript(
      'const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 350)));',
    );
  }
}

const quote = (text: string): string => (text.includes("'") ? `"${text}"` : `'${text}'`);
