import { setTimeout as delay } from 'node:timers/promises';
import { openBrowser } from '../e2e/browser';
import { requestJson, json } from '../apps/server/http/request-json';

/** Milliseconds from an input event to new pixels on the canvas. */
export interface SliderTimes {
  readonly median: number;
  readonly p95: number;
  readonly events: number;
}

/** A knot of a recipe's tie-up, and how the picture is looked at. */
export interface SliderPlace {
  readonly target: string;
  readonly recipe: string;
  /** Its name on the page; or that of another slider, which `chosen` brings into sight. */
  readonly knot: string;
  /** Path of the bead that is chosen first; the cloth where none is. */
  readonly chosen?: string;
  readonly view: 'fit' | '1:1';
}

const stored = (address: string, id: string) =>
  requestJson<{ revision: number; body: unknown }>(address, `/recipes/${id}`);

/**
 * Moves a knot of the tie-up further and further on the page at 1280x800, so that every state is new, and waits each time for the picture
 * that it makes.
 * Counted from the event to the moment at which the new bitmap is drawn.
 */
async function sliderTimes(
  address: string,
  { target, recipe, knot: label, view, chosen }: SliderPlace,
  events = 60,
): Promise<SliderTimes> {
  const { page, close } = await openBrowser();
  try {
    const { body } = await stored(address, recipe);
    await page.goto(`${address}/targets/${target}/loom/${recipe}`);
    await page.waitForSelector('[data-shown="cloth"]');
    // The page at rest: measurements settled and the proof there, so that the server is not busy with either.
    await page.waitForFunction(
      () => document.querySelector('[data-testid="picture"]')?.textContent?.includes('proof'),
      { timeout: 300_000 },
    );
    if (chosen) await page.click(`[data-path="${chosen}"]`);
    if (view === '1:1') await page.keyboard.press('1');
    await delay(1000);
    const times = await page.evaluate(
      async (count, name) => {
        const knot = document.querySelector(`[aria-label="${name}"]`);
        const canvas = document.querySelector('[data-testid="picture"] canvas');
        if (!knot || !canvas) throw new Error('the Loom is not there');
        let seen: CanvasImageSource | undefined;
        let onShown: ((at: number) => void) | undefined;
        const draw = CanvasRenderingContext2D.prototype.drawImage;
        CanvasRenderingContext2D.prototype.drawImage = function (this: CanvasRenderingContext2D, ...args: unknown[]) {
          Reflect.apply(draw, this, args);
          const source = args[0] as CanvasImageSource;
          if (this.canvas === canvas && source !== seen) {
            seen = source;
            onShown?.(performance.now());
          }
        };
        const found: number[] = [];
        for (let i = 0; i < count; i++) {
          const drawn = new Promise<number>((resolve) => {
            onShown = resolve;
          });
          const start = performance.now();
          knot.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
          found.push((await drawn) - start);
          onShown = undefined;
          // As a hand would: the next touch comes a few frames later, while things still move.
          await new Promise((resolve) => setTimeout(resolve, 30));
        }
        return found;
      },
      events,
      label,
    );
    // The recipe goes back to what it was, once the page has kept its last change.
    await page.waitForSelector('[data-testid="save"][data-state="kept"]');
    const { revision } = await stored(address, recipe);
    await requestJson(address, `/recipes/${recipe}`, json('PUT', { parent: revision, body }));
    const sorted = times.sort((a, b) => a - b);
    const at = (q: number) => Math.round(sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] * 10) / 10;
    return { median: at(0.5), p95: at(0.95), events: sorted.length };
  } finally {
    await close();
  }
}

/** The slider in the view of the whole picture, and at 1:1. */
export const slidersOf = async (address: string, place: Omit<SliderPlace, 'view'>) => ({
  fit: await sliderTimes(address, { ...place, view: 'fit' }),
  oneToOne: await sliderTimes(address, { ...place, view: '1:1' }),
});
