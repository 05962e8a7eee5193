import { starlight } from './passbands';
import { skyOfPixel } from './sky-placement';
import type { DemoTarget } from './target';

/** Stars of each target that the made-up catalogue holds: the brightest, as a real one would. */
const MOST = 300;

/** The made-up star catalogue as CSV: degrees, and magnitudes in red, green and blue; a sunlike star has the same in all three. */
export function catalogueOf(targets: readonly DemoTarget[]): string {
  const rows = targets.flatMap((target) => {
    const { width, height } = target.size;
    const inside = target.stars().filter((s) => s.x > 0 && s.y > 0 && s.x < width && s.y < height);
    return inside
      .sort((a, b) => b.flux - a.flux)
      .slice(0, MOST)
      .map((star) => {
        const [ra, dec] = skyOfPixel(target, star.x, star.y);
        const magnitude = (wavelength: number) =>
          12 -
          2.5 * Math.log10((star.flux * starlight(star.temperature, wavelength)) / starlight(star.temperature, 550));
        return [ra.toFixed(6), dec.toFixed(6), ...[640, 530, 450].map((w) => magnitude(w).toFixed(3))].join(',');
      });
  });
  return `ra,dec,red,green,blue\n${rows.join('\n')}\n`;
}
