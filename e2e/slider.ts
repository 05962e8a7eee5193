import { openBrowser } from './browser';

/** Milliseconds from an input event to new pixels on the canvas. */
export interface SliderTimes {
  readonly median: number;
  readonly p95: number;
  readonly events: number;
}

const stored = async (address: string, id: string) =>
  (await (await fetch(`${address}/api/recipes/${id}`)).json()) as { revision: number; body: unknown };

/**
 * Moves a knot of the tie-up further and further on the page at 1280x800, so that every state is new, and waits each time for the picture
 * that it makes.
 * Counted from the event to the moment at which the new bitmap is drawn.
 */
export async function sliderTimes(address: string, events = 60): Promise<SliderTimes> {
  const { page, close } = await openBrowser();
  try {
    const [{ id, recipes }] = (await (await fetch(`${address}/api/targets`)).json()) as {
      id: string;
      recipes: { id: string; name: string }[];
    }[];
    const recipe = recipes.find(({ name }) => name === 'Copper and teal') ?? recipes[0];
    const { body } = await stored(address, recipe.id);
    await page.goto(`${address}/targets/${id}/loom/${recipe.id}`);
    await page.waitForSelector('[data-shown="cloth"]');
    // The page at rest: figures settled and the proof there, so that the server is not busy with either.
    await page.waitForFunction(
      () => document.querySelector('[data-testid="picture"]')?.textContent?.includes('proof'),
      { timeout: 120_000 },
    );
    await new Promise((resolve) => setTimeout(resolve, 1000));
    const times = await page.evaluate(async (count) => {
      const knot = document.querySelector<HTMLElement>('[aria-label="OIII in green"]');
      const canvas = document.querySelector('[data-testid="picture"] canvas');
      if (!knot || !canvas) throw new Error('the Loom is not there');
      let seen: CanvasImageSource | undefined;
      let told: ((at: number) => void) | undefined;
      const draw = CanvasRenderingContext2D.prototype.drawImage;
      CanvasRenderingContext2D.prototype.drawImage = function (this: CanvasRenderingContext2D, ...args: unknown[]) {
        Reflect.apply(draw, this, args);
        const source = args[0] as CanvasImageSource;
        if (this.canvas === canvas && source !== seen) {
          seen = source;
          told?.(performance.now());
        }
      };
      const found: number[] = [];
      for (let i = 0; i < count; i++) {
        const drawn = new Promise<number>((resolve) => {
          told = resolve;
        });
        const start = performance.now();
        knot.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
        found.push((await drawn) - start);
        told = undefined;
        // As a hand would: the next touch comes a few frames later, while things still move.
        await new Promise((resolve) => setTimeout(resolve, 30));
      }
      return found;
    }, events);
    // The recipe goes back to what it was, once the page has kept its last change.
    await page.waitForSelector('[data-testid="save"][data-state="kept"]');
    const { revision } = await stored(address, recipe.id);
    await fetch(`${address}/api/recipes/${recipe.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ parent: revision, body }),
    });
    const sorted = times.sort((a, b) => a - b);
    const at = (q: number) => Math.round(sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] * 10) / 10;
    return { median: at(0.5), p95: at(0.95), events: sorted.length };
  } finally {
    await close();
  }
}
