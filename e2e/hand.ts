import { setTimeout as delay } from 'node:timers/promises';
import type { ElementHandle, Page } from 'puppeteer-core';
import { openBrowser, PATIENCE } from './browser';

export const pause = (ms: number): Promise<void> => delay(ms);

/** What the browser says of an element that is not there yet, or of a page that gives way to the next. */
const NOT_YET = /failed to find element|context was destroyed|detached|not clickable or not an Element/i;

/** Whether a click on its middle, brought into sight, would be its own. */
function takesClicks(node: Element): boolean {
  node.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  const box = node.getBoundingClientRect();
  const there = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
  return node.contains(there);
}

/** A person at the page: looks, presses, drags, and remembers every complaint of the page. */
export class PageDriver {
  readonly troubles: string[] = [];
  /** Faults that the test itself brings about. */
  expected: RegExp | undefined;

  private constructor(
    readonly page: Page,
    readonly close: () => Promise<void>,
  ) {
    page.on('console', (message) => {
      if (message.type() === 'error' && !this.expected?.test(message.text()))
        this.troubles.push(`${message.text()} ${message.location().url ?? ''}`);
    });
    page.on('pageerror', (error) => this.troubles.push(String(error)));
  }

  static async open(): Promise<PageDriver> {
    const { page, close } = await openBrowser();
    return new PageDriver(page, close);
  }

  async until<T>(what: string, look: () => Promise<T | undefined | null | false>): Promise<T> {
    let last = '';
    for (const from = performance.now(); performance.now() - from < PATIENCE; ) {
      const found = await look().catch((error: unknown) => {
        if (!NOT_YET.test(String(error))) throw error;
        last = `${String(error)}; `;
      });
      if (found) return found;
      await pause(100);
    }
    throw new Error(
      `never came: ${what}; ${last}${await this.overIt()}the page says: ${(await this.text('body')).slice(0, 600)}`,
    );
  }

  /** What lies over the page and takes its clicks, in words. */
  private overIt(): Promise<string> {
    return this.page.evaluate(() => {
      const over = document.querySelector('[role="menu"], [role="dialog"], [data-sonner-toast]');
      const shut = getComputedStyle(document.body).pointerEvents === 'none' ? 'the page takes no clicks; ' : '';
      return shut + (over ? `over it lies: ${(over as HTMLElement).innerText.slice(0, 80)}; ` : '');
    });
  }

  text(selector: string): Promise<string> {
    return this.page.$eval(selector, (node) =>
      node instanceof HTMLElement ? node.innerText : (node.textContent ?? ''),
    );
  }

  /** The button or link with that name, once it can be pressed; within a part of the page, where others bear the same name. */
  named(name: string | RegExp, within = ''): Promise<ElementHandle> {
    return this.until(`a button ${name}`, () => this.button(name, within));
  }

  private async button(name: string | RegExp, within = ''): Promise<ElementHandle | undefined> {
    for (const handle of await this.page.$$(`${within} button, ${within} a`)) {
      const label = await handle.evaluate((node) => node.getAttribute('aria-label') ?? node.textContent?.trim() ?? '');
      const fits = typeof name === 'string' ? label === name : name.test(label);
      if (fits && (await handle.evaluate((node) => !(node as HTMLButtonElement).disabled))) return handle;
    }
    return undefined;
  }

  press(name: string | RegExp, within?: string): Promise<void> {
    return this.clickOn(`a button ${name}`, () => this.button(name, within));
  }

  click(selector: string): Promise<void> {
    return this.clickOn(selector, () => this.page.$(selector));
  }

  /** Clicks as a person would: not while something lies over it, as a dialog does that is still at its work. */
  private async clickOn(what: string, find: () => Promise<ElementHandle | null | undefined>): Promise<void> {
    await this.until(`${what} with nothing over it`, async () => {
      const found = await find();
      if (!found || !(await found.evaluate(takesClicks))) return false;
      await found.click();
      return true;
    });
  }

  /** Takes an entry of the list that is open, by how it begins. */
  entry(begins: string): Promise<void> {
    return this.clickOn(`an entry ${begins}`, async () => {
      for (const handle of await this.page.$$('[role^="menuitem"], [role="option"]'))
        if ((await handle.evaluate((node) => (node as HTMLElement).innerText)).startsWith(begins)) return handle;
      return undefined;
    });
  }

  /** Goes on by the Tab key until something has the keyboard. */
  async tabTo(selector: string): Promise<void> {
    for (let i = 0; i < 300; i++) {
      if (await this.page.evaluate((it) => document.activeElement?.matches(it), selector)) return;
      await this.page.keyboard.press('Tab');
    }
    throw new Error(`the Tab key never came to ${selector}`);
  }

  /** The middle of the picture, in pixels of the page. */
  async middle(): Promise<{ x: number; y: number }> {
    const box = await (await this.page.waitForSelector('[data-testid="picture"] canvas'))?.boundingBox();
    if (!box) throw new Error('no picture');
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  }

  /** Whether there are pictures there, as many as are said, and all have come. */
  pictured(selector: string, many = 1): Promise<boolean> {
    return this.page.$$eval(
      selector,
      (all, wanted) => all.length === wanted && all.every((one) => (one as HTMLImageElement).naturalWidth > 0),
      many,
    );
  }

  /** Mean colour of the picture on the screen. */
  picture(selector = '[data-testid="picture"] canvas'): Promise<number[]> {
    return this.page.$eval(selector, (node) => {
      const canvas = node as HTMLCanvasElement;
      const { data } = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height) ?? { data: [] };
      const sum = [0, 0, 0];
      for (let i = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) sum[c] += data[i + c];
      return sum.map((value) => (value * 4) / data.length);
    });
  }

  /** The number in a field of the bench; NaN where there is no such field. */
  field(label: string): Promise<number> {
    return this.page.$$eval(
      '[data-testid="bench"] label',
      (labels, name) =>
        Number(
          (labels.find((one) => one.textContent === name)?.querySelector('input') as HTMLInputElement | null)?.value,
        ),
      label,
    );
  }

  /** The first number near another in any field of the bench. */
  async numberNear(wanted: number, by: number): Promise<number | undefined> {
    const all = await this.page.$$eval('[data-testid="bench"] input', (fields) =>
      fields.map((one) => Number(one.value)),
    );
    return all.find((value) => Math.abs(value - wanted) < by);
  }

  /** Waits until the picture's measurements are the true ones, and stay. */
  settled() {
    return this.until('a settled picture', async () => {
      const settling = async () => (await this.text('[data-testid="picture"]')).includes('Refining');
      if (await settling()) return false;
      await pause(500);
      return !(await settling());
    });
  }

  /** The picture's mean colour, once what was done last is in it: it no longer changes. */
  still(): Promise<number[]> {
    return this.until('a picture that stays', async () => {
      const before = await this.picture();
      await pause(500);
      const after = await this.picture();
      return after.every((value, c) => value === before[c]) && after;
    });
  }

  kept() {
    return this.until('the change kept', () => this.page.$('[data-testid="save"][data-state="kept"]'));
  }

  /** Drags from one place of the screen to another. */
  async dragFrom(x: number, y: number, dx: number, dy: number): Promise<void> {
    const { mouse } = this.page;
    await mouse.move(x, y);
    await mouse.down();
    await mouse.move(x + dx, y + dy, { steps: 8 });
    await mouse.up();
  }

  /** Drags from the middle of an element. */
  async drag(selector: string, dx: number, dy: number): Promise<void> {
    const box = await (await this.page.waitForSelector(selector))?.boundingBox();
    if (!box) throw new Error(`${selector} is not in sight`);
    await this.dragFrom(box.x + box.width / 2, box.y + box.height / 2, dx, dy);
  }
}
