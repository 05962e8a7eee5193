import { describe, expect, it } from 'vitest';
import { detectStarField as foundIn } from '@owl-loom/algorithms/stars/field';
import { planeNoise } from '@owl-loom/image/stats/noise';
import { skyLevel } from '@owl-loom/image/stats/sky';
import { type Maps, expose, meanLight, sampleMaps } from './expose';
import { LANTERN_MOTH, lanternMoth } from './lantern-moth';
import { starlight } from './passbands';
import { MOTH_IN_COLOUR } from './moth-in-colour';
import { TEASEL } from './teasel';
import { truthOf } from './truth';
import { addStar, starField } from './stars';

const [width, height] = [360, 240];
const ha = LANTERN_MOTH.stacks.find((stack) => stack.label === 'Ha')?.exposures[0];
if (!ha) throw new Error('no Ha');

describe('demo stars', () => {
  it('give all their light to the pixels, wherever they stand between them', () => {
    for (const [x, y] of [
      [60, 60],
      [60.5, 60.25],
      [59.9, 60.7],
    ]) {
      const plane = new Float64Array(121 * 121);
      addStar(plane, 121, 121, x, y, 3, 2.8, 1e-7);
      expect(plane.reduce((a, b) => a + b, 0)).toBeCloseTo(3, 1);
    }
  });

  it('are white at the temperature of the sun, blue above and red below', () => {
    expect(starlight(5772, 450)).toBeCloseTo(1, 9);
    expect(starlight(12_000, 450) / starlight(12_000, 640)).toBeGreaterThan(1.3);
    expect(starlight(3500, 450) / starlight(3500, 640)).toBeLessThan(0.5);
  });

  it('are the same every time', () => {
    expect(starField(5, 100, 100, 20, 0.01)).toEqual(starField(5, 100, 100, 20, 0.01));
    expect(LANTERN_MOTH.stars()).toEqual(LANTERN_MOTH.stars());
  });
});

describe('a demo exposure', () => {
  const empty: Maps = {
    ...sampleMaps(width, height, () => ({ ha: 0, oiii: 0, sii: 0, blue: 0, green: 0, red: 0, dust: 0 })),
  };

  it('has the sky and the noise that its truth says, and the same pixels every time', () => {
    const exposure = { ...ha, gradient: { gx: 0, gy: 0, bend: 0 }, ragged: [0, 0, 0, 0] as const };
    const light = meanLight(empty, [], exposure);
    const frame = expose(light, width, height, exposure);
    expect(skyLevel(frame).sky).toBeCloseTo(ha.filter.sky, 4);
    const sigma = Math.sqrt(ha.filter.sky / ha.electrons + ha.readNoise ** 2);
    expect(planeNoise(frame, width, height) / sigma).toBeCloseTo(1, 1);
    expect(expose(light, width, height, exposure)).toEqual(frame);
  });

  it('slopes by its gradient, ends at a full well, and has ragged edges', () => {
    const exposure = { ...ha, gradient: { gx: 1, gy: 0, bend: 0 }, ragged: [3, 0, 0, 2] as const };
    const light = meanLight(empty, [{ x: 180, y: 120, temperature: 5772, flux: 900 }], exposure);
    expect(light[width - 1] / light[0]).toBeCloseTo((1 + ha.filter.glow) / (1 - ha.filter.glow), 1);
    const frame = expose(light, width, height, exposure);
    expect(Math.max(...frame.filter((v) => v === v))).toBe(1);
    expect(frame.filter((v) => v !== v).length).toBe(3 * height + 2 * (width - 3));
  });

  it('of the Moth itself shows oxygen inside, hydrogen about it, sulfur at the fronts, and stars of its seeing', () => {
    const at = (u: number, v: number) => lanternMoth(905 + 400 * u, 640 + 400 * v);
    const mean = (pick: 'ha' | 'oiii' | 'sii', radius: number) =>
      Array.from(
        { length: 60 },
        (_, i) => at(radius * Math.cos(i / 9.55), 0.75 * radius * Math.sin(i / 9.55))[pick],
      ).reduce((a, b) => a + b, 0) / 60;
    expect(mean('oiii', 0.7)).toBeGreaterThan(4 * mean('oiii', 1.7));
    expect(mean('ha', 1.05)).toBeGreaterThan(mean('ha', 0.3));
    expect(mean('ha', 1)).toBeGreaterThan(mean('sii', 1));
    const stars = LANTERN_MOTH.stars().filter((star) => star.x < width && star.y < height && star.flux < 4);
    const frame = expose(meanLight(empty, stars, ha), width, height, { ...ha, ragged: [0, 0, 0, 0] });
    expect(Math.abs(foundIn(frame, width, height).fwhm / ha.filter.fwhm - 1)).toBeLessThan(0.2);
  });
});

describe('the other demo skies', () => {
  it('the Teasel is bright along its disc, and its hydrogen stands out above and below', () => {
    const at = (u: number, v: number) => {
      const tilt = (21 * Math.PI) / 180;
      return TEASEL.glow(
        770 + 300 * (u * Math.cos(tilt) - v * Math.sin(tilt)),
        505 + 300 * (u * Math.sin(tilt) + v * Math.cos(tilt)),
      );
    };
    const mean = (pick: 'ha' | 'green', u: number, v: number) =>
      Array.from(
        { length: 81 },
        (_, i) => at(u + 0.05 * ((i % 9) - 4), v + 0.05 * (Math.floor(i / 9) - 4))[pick],
      ).reduce((a, b) => a + b, 0) / 81;
    expect(mean('green', 0.7, 0)).toBeGreaterThan(5 * mean('green', 0, 0.7));
    expect(mean('ha', 0, 0.55)).toBeGreaterThan(4 * mean('ha', 0.9, 0.55));
    expect(mean('ha', 0, -0.55)).toBeGreaterThan(4 * mean('ha', -0.9, -0.55));
  });

  it('the truth of the Teasel says how its hydrogen stack is turned', () => {
    const maps = sampleMaps(TEASEL.size.width, TEASEL.size.height, () => ({
      ha: 0,
      oiii: 0,
      sii: 0,
      blue: 0,
      green: 0,
      red: 0,
      dust: 0,
    }));
    const truth = truthOf(TEASEL, maps);
    const [[xx], [yx]] = truth.stacks.find((stack) => stack.label === 'Ha')?.transform ?? [[0], [0]];
    expect((Math.atan2(yx, xx) * 180) / Math.PI).toBeCloseTo(1.7, 9);
    const [k] = truth.continuum;
    // The field's stars are cooler than the sun, and hydrogen lies redder than the middle of R.
    expect(k.kOfMiddleStar).toBeGreaterThan(k.k);
    expect(k.kOfMiddleStar / k.k).toBeLessThan(1.1);
  });

  it('the colour camera sees each line in each plane by its response', () => {
    const [red, green, blue] = MOTH_IN_COLOUR.stacks[0].exposures.map((exposure) => {
      const maps = { ...sampleMaps(16, 16, () => ({ ha: 0, oiii: 0.1, sii: 0, blue: 0, green: 0, red: 0, dust: 0 })) };
      return meanLight(maps, [], { ...exposure, gradient: { gx: 0, gy: 0, bend: 0 } })[0] - exposure.filter.sky;
    });
    expect([red, green, blue].map((v) => v / 0.1)).toEqual([
      expect.closeTo(0.05, 6),
      expect.closeTo(0.86, 6),
      expect.closeTo(0.64, 6),
    ]);
  });

  it('the oxygen lines are seen through blue and green alike, and not through red', () => {
    const light = (name: string) => {
      const exposure = LANTERN_MOTH.stacks.flatMap((stack) => stack.exposures).find((e) => e.filter.name === name);
      if (!exposure) throw new Error(`no ${name}`);
      const maps = sampleMaps(8, 8, () => ({ ha: 0, oiii: 0.1, sii: 0, blue: 0, green: 0, red: 0, dust: 0 }));
      return meanLight(maps, [], { ...exposure, gradient: { gx: 0, gy: 0, bend: 0 } })[0] - exposure.filter.sky;
    };
    expect(light('B') / light('G')).toBeGreaterThan(0.7);
    expect(light('B') / light('G')).toBeLessThan(1);
    expect(light('R')).toBeCloseTo(0, 9);
  });
});
