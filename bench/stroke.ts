import { setTimeout as pause } from 'node:timers/promises';
import { openBrowser } from '../e2e/browser';

/** How a stroke of the brush feels, in milliseconds. */
export interface StrokeTimes {
  /** From the pen's move to the frame that shows it. */
  readonly penMedian: number;
  readonly penP95: number;
  /** From the lifted pen to the picture that has the stroke in its mask. */
  readonly pixelsMedian: number;
  readonly pixelsMost: number;
  readonly strokes: number;
}

declare global {
  interface Window {
    strokeTimes: { pen: number[]; pixels: number[] };
  }
}

/**
 * Draws strokes on a mask over the picture, as a hand does.
 * @param mask path of the mask
 */
async function strokeTimes(
  address: string,
  { target, recipe, mask, view }: { target: string; recipe: string; mask: string; view: 'fit' | '1:1' },
  strokes = 8,
): Promise<StrokeTimes> {
  const { page, close } = await openBrowser();
  try {
    await page.goto(`${address}/targets/${target}/loom/${recipe}`);
    await page.waitForSelector('[data-shown="cloth"]', { timeout: 120_000 });
    await page.waitForFunction(`document.querySelector('[data-testid="picture"]')?.textContent?.includes('proof')`, {
      timeout: 300_000,
    });
    await page.click(`[data-path="${mask}"]`);
    await page.keyboard.press('m');
    if (view === '1:1') await page.keyboard.press('1');
    const brush = await page.waitForSelector('button[aria-label^="Brush:"]');
    await brush?.click();
    await pause(4000);
    await page.evaluate(() => {
      window.strokeTimes = { pen: [], pixels: [] };
      const picture = document.querySelector('[data-testid="picture"]');
      if (!picture) throw new Error('the Loom is not there');
      let moved: number | undefined;
      let lifted: number | undefined;
      const onMove = () => {
        moved ??= performance.now();
      };
      const onUp = () => {
        lifted = performance.now();
      };
      picture.addEventListener('pointermove', onMove, true);
      picture.addEventListener('pointerup', onUp, true);
      const frame = (): void => {
        const drawn = document.querySelector('[data-testid="stroke"]');
        // The frame that is being made now shows what the page holds.
        if (drawn && moved !== undefined && lifted === undefined) {
          window.strokeTimes.pen.push(performance.now() - moved);
          moved = undefined;
        }
        if (!drawn && lifted !== undefined) {
          window.strokeTimes.pixels.push(performance.now() - lifted);
          lifted = undefined;
        }
        requestAnimationFrame(frame);
      };
      requestAnimationFrame(frame);
    });
    const box = await (await page.$('[data-testid="picture"]'))?.boundingBox();
    if (!box) throw new Error('the Loom is not there');
    for (let i = 0; i < strokes; i++) {
      const [x, y] = [box.x + 120 + 60 * i, box.y + 140 + 30 * (i % 4)];
      await page.mouse.move(x, y);
      await page.mouse.down();
      for (let k = 1; k <= 30; k++) {
        await page.mouse.move(x + 4 * k, y + 30 * Math.sin(k / 5));
        await pause(8);
      }
      await page.mouse.up();
      await page.waitForFunction((count) => window.strokeTimes.pixels.length >= count, { timeout: 60_000 }, i + 1);
      await pause(400);
    }
    const { pen, pixels } = await page.evaluate(() => window.strokeTimes);
    const sorted = (list: number[]) => list.toSorted((a, b) => a - b);
    const at = (list: number[], q: number) => sorted(list)[Math.min(list.length - 1, Math.floor(q * list.length))];
    return {
      penMedian: at(pen, 0.5),
      penP95: at(pen, 0.95),
      pixelsMedian: at(pixels, 0.5),
      pixelsMost: at(pixels, 1),
      strokes,
    };
  } finally {
    await close();
  }
}

/** In the view of the whole picture, and at 1:1. */
export const strokesOf = async (address: string, place: { target: string; recipe: string; mask: string }) => ({
  fit: await strokeTimes(address, { ...place, view: 'fit' }),
  oneToOne: await strokeTimes(address, { ...place, view: '1:1' }),
});
