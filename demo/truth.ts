import { IDENTITY } from '@owl-loom/image/geometry/affine';
import { medianOfSorted } from '@owl-loom/image/stats/median';
import { type Maps, starFlux, starShare } from './expose';
import type { Filter } from './passbands';
import { fluxAt, type DemoStar } from './stars';
import type { DemoTarget } from './target';

/** The broadband filter next to each line. */
const BESIDE = [
  { line: 'Ha', broad: 'R' },
  { line: 'SII', broad: 'R' },
  { line: 'OIII', broad: 'G' },
] as const;

/** Stars that a fit would use: bright enough to measure, and no full well. */
const measurable = ({ flux }: DemoStar): boolean => flux > 0.15 && flux < 6;

/** Everything that made a target's stacks, as it is written beside them. */
export function truthOf(target: DemoTarget, maps: Maps) {
  const stars = target.stars();
  const mono = new Map(
    target.stacks
      .filter((stack) => stack.exposures.length === 1)
      .map((stack) => [stack.filter, stack.exposures[0].filter]),
  );
  const colour = target.stacks.find((stack) => stack.exposures.length === 3);
  return {
    target: target.name,
    size: target.size,
    continuum: BESIDE.flatMap(({ line, broad }) => {
      const [n, c] = [mono.get(line), mono.get(broad)];
      // For sunlike stars, whose colour is white by construction, and for the middle star of this field, which is cooler and lies behind dust.
      return n && c
        ? [{ line, broad, k: starShare(n) / starShare(c), kOfMiddleStar: middleRatio(stars, maps, n, c) }]
        : [];
    }),
    ...(colour && { channels: colour.exposures.map(({ filter, passes }) => ({ channel: filter.name, passes })) }),
    stacks: target.stacks.map(({ label, filter, exposures, moved = IDENTITY }) => ({
      label,
      filter,
      exposures,
      // A pixel of the stack by a pixel of the target's own grid.
      transform: [
        [moved.xx, moved.xy, moved.tx],
        [moved.yx, moved.yy, moved.ty],
      ],
    })),
    stars: stars.map((star) => ({
      x: star.x,
      y: star.y,
      temperature: star.temperature,
      flux: Object.fromEntries(
        [...mono].map(([name, filter]) => [name, fluxAt(star, filter.wavelength) * starShare(filter)]),
      ),
    })),
  };
}

function middleRatio(stars: readonly DemoStar[], maps: Maps, line: Filter, broad: Filter): number {
  const { width, height } = maps;
  const inside = stars.filter(
    (star) => measurable(star) && star.x >= 0 && star.y >= 0 && star.x <= width - 1 && star.y <= height - 1,
  );
  const ratios = inside.map((star) => {
    const depth = maps.dust[Math.round(star.y) * width + Math.round(star.x)];
    return starFlux(star, line, depth) / starFlux(star, broad, depth);
  });
  return medianOfSorted(ratios.sort((a, b) => a - b));
}
