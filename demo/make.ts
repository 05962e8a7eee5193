import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { type Affine, invertAffine, mapPoint } from '@owl-loom/image/geometry/affine';
import { encodeFits } from '@owl-loom/image/fits/write';
import { expose, meanLight, type Maps, sampleMaps } from './expose';
import { skyCards } from './sky-placement';
import type { DemoStar } from './stars';
import type { DemoStack, DemoTarget } from './target';
import { truthOf } from './truth';

function cards(target: DemoTarget, stack: DemoStack) {
  const [exposure] = stack.exposures;
  return [
    { key: 'OBJECT', value: target.name, comment: 'an invented target' },
    { key: 'FILTER', value: stack.filter },
    { key: 'EXPTIME', value: exposure.filter.exposure, comment: 'seconds, all together' },
    { key: 'INSTRUME', value: target.camera },
    { key: 'TELESCOP', value: target.telescope },
    { key: 'DATE-OBS', value: target.night },
    ...skyCards(target, stack.moved),
  ];
}

/** Maps of a sky that two targets share are sampled once: it takes longer than all the rest. */
const sampled = new Map<DemoTarget['glow'], Maps>();

function ownMaps({ glow, size }: DemoTarget): Maps {
  const known = sampled.get(glow);
  if (known && known.width === size.width && known.height === size.height) return known;
  const made = sampleMaps(size.width, size.height, glow);
  sampled.set(glow, made);
  return made;
}

/** The target as a moved file sees it. */
function seen(target: DemoTarget, stars: readonly DemoStar[], moved: Affine): { maps: Maps; stars: DemoStar[] } {
  const back = invertAffine(moved);
  return {
    maps: sampleMaps(target.size.width, target.size.height, (x, y) => target.glow(...mapPoint(back, x, y))),
    stars: stars.map((star) => {
      const [x, y] = mapPoint(moved, star.x, star.y);
      return { ...star, x, y };
    }),
  };
}

/** Writes the parts of a file to a path, whole or not at all. */
export type WriteFile = (path: string, parts: Iterable<Uint8Array>) => Promise<void>;

/**
 * Writes a target: its stacks as FITS, and under `truth/` the clean maps, the stars and every number that made them.
 * The same folder comes out byte for byte each time.
 * @returns the stacks' files
 */
export async function makeTarget(
  dir: string,
  target: DemoTarget,
  write: WriteFile,
  log: (line: string) => void,
): Promise<string[]> {
  const { width, height } = target.size;
  const truth = join(dir, 'truth');
  await mkdir(truth, { recursive: true });
  const stars = target.stars();
  const straight = { maps: ownMaps(target), stars };
  const files: string[] = [];
  for (const stack of target.stacks) {
    const { maps, stars: there } = stack.moved ? seen(target, stars, stack.moved) : straight;
    const planes = stack.exposures.map((exposure) => expose(meanLight(maps, there, exposure), width, height, exposure));
    const path = join(dir, fileOf(target, stack));
    await write(
      path,
      encodeFits({
        width,
        height,
        planes,
        own: cards(target, stack),
        history: ['Made by the Owl Loom sky maker; no real sky.'],
      }),
    );
    files.push(path);
    log(`${target.name}, ${stack.label}`);
  }
  for (const key of [...target.lines, 'dust'] as const) {
    await write(
      join(truth, `${key}.fits`),
      encodeFits({
        width,
        height,
        planes: [straight.maps[key]],
        own: [{ key: 'OBJECT', value: `${target.name}, true ${key}` }],
      }),
    );
  }
  await write(join(truth, 'truth.json'), [Buffer.from(`${JSON.stringify(truthOf(target, straight.maps), null, 1)}\n`)]);
  return files;
}

/** The name of a stack's file. */
export const fileOf = (target: DemoTarget, stack: DemoStack): string => `${target.folder}_${stack.label}.fits`;
