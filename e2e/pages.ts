import { By, error as failure, Key, until, type WebDriver, type WebElement } from 'selenium-webdriver';

/** Long enough for a cold kernel on a busy machine; nothing waits this long when things go well. */
const PATIENCE_MS = 100_000;

/** What an element says while the page is still changing. */
const PASSING = [
  failure.StaleElementReferenceError,
  failure.InvalidElementStateError,
  failure.ElementNotInteractableError,
  failure.ElementClickInterceptedError,
] as const;

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

  /** Does something with an element, once more where the page drew it anew in between, or has not finished showing it. */
  async use<T>(locator: By, action: (element: WebElement) => Promise<T>): Promise<T> {
    const until = Date.now() + PATIENCE_MS;
    for (;;) {
      const element = await this.find(locator);
      try {
        return await action(element);
      } catch (error) {
        if (!PASSING.some((kind) => error instanceof kind) || Date.now() > until) throw error;
      }
    }
  }

  click(locator: By): Promise<void> {
    return this.use(locator, (element) => element.click());
  }

  attribute(locator: By, name: string): Promise<string | null> {
    return this.use(locator, (element) => element.getAttribute(name));
  }

  async text(): Promise<string> {
    return this.driver.executeScript<string>('return document.body.innerText');
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
    return this.find(buttonOf(name));
  }

  link(name: string): Promise<WebElement> {
    return this.find(linkOf(name));
  }

  follow(name: string): Promise<void> {
    return this.click(linkOf(name));
  }

  /** The input or select that a visible label belongs to. */
  async field(label: string): Promise<WebElement> {
    return this.find(await this.fieldOf(label));
  }

  private async fieldOf(label: string): Promise<By> {
    const id = await this.attribute(By.xpath(`//label[normalize-space(.)=${quote(label)}]`), 'for');
    return By.id(id ?? '');
  }

  press(name: string): Promise<void> {
    return this.click(buttonOf(name));
  }

  async fill(label: string, text: string): Promise<void> {
    await this.use(await this.fieldOf(label), async (field) => {
      await field.clear();
      await field.sendKeys(text);
    });
  }

  /** Types into a field in place of what it holds, key by key as a person does. */
  async type(label: string, text: string): Promise<void> {
    await (await this.field(label)).sendKeys(Key.chord(Key.CONTROL, 'a'), text);
  }

  /** Adds a build step in an editor, by a word that is searched for. */
  async addStep(search: string): Promise<void> {
    await this.press('Add a step');
    await (await this.find(By.css('[aria-label="Search operations"]'))).sendKeys(search, Key.ENTER);
    await this.find(By.css('[data-testid="step-form"]'));
  }

  /** Takes an option of a select, by its words. */
  choose(label: string, option: string): Promise<void> {
    return this.click(By.xpath(`//select[@id=//label[.=${quote(label)}]/@for]/option[.=${quote(option)}]`));
  }

  /** From the desk to an assignment, by the number of its exercise and, where there are several, its section. */
  toAssignment(exercise: string, section = ''): Promise<void> {
    return this.click(
      By.xpath(
        `//section[.//h2[.="Assignments"]]//a[starts-with(@href, "/assignments/")][contains(., "${exercise}")][contains(., "${section}")]`,
      ),
    );
  }

  /** Clicks a point of the sheet, mm from its upper left corner. */
  async pointAt(x: number, y: number): Promise<void> {
    await this.settle();
    const [left = 0, top = 0] = await this.driver.executeScript<number[]>(
      `const matrix = document.querySelector('[data-sheet] svg').getScreenCTM();
       const at = new DOMPoint(arguments[0], arguments[1]).matrixTransform(matrix);
       return [at.x, at.y];`,
      x,
      y,
    );
    await this.driver
      .actions()
      .move({ x: Math.round(left), y: Math.round(top) })
      .click()
      .perform();
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

const buttonOf = (name: string): By =>
  By.xpath(`//button[normalize-space(.)=${quote(name)} or @aria-label=${quote(name)}]`);

const linkOf = (name: string): By => By.xpath(`//a[contains(normalize-space(.), ${quote(name)})]`);
