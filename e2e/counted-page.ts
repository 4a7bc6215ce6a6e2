import { By } from 'selenium-webdriver';

import { Page } from './pages.ts';

/**
 * What a practiced person takes, s: to point at something, to press it, for a key, to bring a hand from mouse to keyboard
 * and back, and to think before an action. Keystroke-level model of Card, Moran and Newell (1980), average typist.
 */
const SECONDS = { point: 1.1, press: 0.2, key: 0.28, homing: 0.8, think: 1.35 } as const;

interface Effort {
  readonly clicks: number;
  readonly keys: number;
  /** Fields that were typed into. */
  readonly fields: number;
  /** Until the page had done what was asked, with the time that the browser was driven. */
  readonly machineSeconds: number;
}

const NONE: Effort = { clicks: 0, keys: 0, fields: 0, machineSeconds: 0 };

const minutesOf = ({ clicks, keys, fields, machineSeconds }: Effort): number =>
  (clicks * (SECONDS.point + SECONDS.press + SECONDS.think) +
    keys * SECONDS.key +
    fields * SECONDS.homing +
    machineSeconds) /
  60;

/** A page that counts what it takes to use it. */
export class CountedPage extends Page {
  private readonly stages: { readonly name: string; readonly effort: Effort }[] = [];
  private effort: Effort = NONE;

  private add(more: Partial<Effort>): void {
    const { clicks = 0, keys = 0, fields = 0 } = more;
    this.effort = {
      ...this.effort,
      clicks: this.effort.clicks + clicks,
      keys: this.effort.keys + keys,
      fields: this.effort.fields + fields,
    };
  }

  override click(locator: By): Promise<void> {
    this.add({ clicks: 1 });
    return super.click(locator);
  }

  override fill(label: string, text: string): Promise<void> {
    this.add({ clicks: 1, keys: text.length, fields: 1 });
    return super.fill(label, text);
  }

  override type(label: string, text: string): Promise<void> {
    this.add({ clicks: 1, keys: text.length + 2, fields: 1 });
    return super.type(label, text);
  }

  override addStep(search: string): Promise<void> {
    this.add({ keys: search.length + 1, fields: 1 });
    return super.addStep(search);
  }

  /** The list opens with one click, its option is another. */
  override choose(label: string, option: string): Promise<void> {
    this.add({ clicks: 1 });
    return super.choose(label, option);
  }

  /** Puts a copied text into a field: two keys, however long it is. */
  paste(label: string, text: string): Promise<void> {
    this.add({ clicks: 1, keys: 2, fields: 1 });
    return super.fill(label, text);
  }

  /** Opens the dialog of the system and takes a file there. */
  async chooseFile(testId: string, file: string): Promise<void> {
    this.add({ clicks: 3 });
    await (await this.find(By.css(`[data-testid="${testId}"]`))).sendKeys(file);
  }

  /** Types a time of the day; what the field takes depends on the language of the browser, which is not what is tried here. */
  async setTime(label: string, value: string): Promise<void> {
    this.add({ clicks: 1, keys: value.length, fields: 1 });
    await this.driver.executeScript(
      `const [field, value] = arguments;
       Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, value);
       field.dispatchEvent(new Event('input', { bubbles: true }));`,
      await this.field(label),
      value,
    );
  }

  async stage(name: string, walk: () => Promise<void>): Promise<void> {
    this.effort = NONE;
    const startMs = performance.now();
    await walk();
    const machineSeconds = (performance.now() - startMs) / 1000;
    this.stages.push({ name, effort: { ...this.effort, machineSeconds } });
  }

  /** What others do in between. */
  async uncounted(walk: () => Promise<void>): Promise<void> {
    await walk();
    this.effort = NONE;
  }

  /** A table of what each stage took, and all together. */
  account(): { readonly lines: readonly string[]; readonly clicks: number; readonly minutes: number } {
    const efforts = this.stages.map(({ effort }) => effort);
    const sum = (part: (effort: Effort) => number): number =>
      efforts.reduce((total, effort) => total + part(effort), 0);
    const whole: Effort = {
      clicks: sum(({ clicks }) => clicks),
      keys: sum(({ keys }) => keys),
      fields: sum(({ fields }) => fields),
      machineSeconds: sum(({ machineSeconds }) => machineSeconds),
    };
    const line = (name: string, effort: Effort): string =>
      [
        name.padEnd(34),
        String(effort.clicks).padStart(6),
        String(effort.keys).padStart(6),
        effort.machineSeconds.toFixed(0).padStart(9),
        minutesOf(effort).toFixed(1).padStart(9),
      ].join(' ');
    return {
      lines: [
        `${''.padEnd(34)} clicks   keys machine s   minutes`,
        ...this.stages.map(({ name, effort }) => line(name, effort)),
        line('Altogether', whole),
      ],
      clicks: whole.clicks,
      minutes: minutesOf(whole),
    };
  }
}
