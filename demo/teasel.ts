import { compose, IDENTITY } from '@owl-loom/image/geometry/affine';
import { Clouds, ramp } from './clouds';
import { type Exposure, exposuresOf } from './expose';
import type { Glow } from './emission';
import type { Filter } from './passbands';
import { type DemoStar, starField } from './stars';
import type { DemoTarget } from './target';

const SIZE = { width: 1500, height: 1000 } as const;
const CENTRE = { x: 770, y: 505 } as const;
/** The disc's long axis, turned from the picture's foot. */
const TILT = (21 * Math.PI) / 180;

const lumps = new Clouds(211);
const knots = new Clouds(223);
const lanes = new Clouds(227);
const threads = new Clouds(229);

const bell = (x: number, width: number): number => Math.exp(-((x / width) ** 2));

/**
 * The Teasel: a dwarf galaxy seen from its edge, its middle full of young stars whose winds blow hydrogen out above and below in plumes
 * like the heads of the thistle it is called after.
 * @param x pixel from the left
 * @param y pixel from the foot
 */
export function teasel(x: number, y: number): Glow {
  const dx = (x - CENTRE.x) / 300;
  const dy = (y - CENTRE.y) / 300;
  const u = dx * Math.cos(TILT) + dy * Math.sin(TILT);
  const v = -dx * Math.sin(TILT) + dy * Math.cos(TILT) + 0.05 * lumps.billow(dx * 1.3, dy * 1.3, 3);

  // Old stars: a smooth, thick disc. Young ones: a thin one in clumps.
  const thick = Math.exp(-Math.hypot(u / 0.62, v / 0.2)) + 0.07 * Math.exp(-Math.hypot(u / 0.95, v / 0.32));
  const clumps = Math.max(0, 0.25 + lumps.billow(u * 3.4 + 2, v * 5.2, 5));
  const thin = Math.exp(-Math.abs(u) / 0.5) * bell(v, 0.085 + 0.02 * Math.abs(u)) * (0.35 + 2.2 * clumps);
  const burst = bell(u - 0.04, 0.2) * bell(v, 0.085);
  const nests = burst * knots.ridges(u * 6.5, v * 9, 5) ** 2;

  const lane =
    lanes.ridges(u * 2.1 + 6, v * 5.5 - 2, 5) *
    bell(v + 0.035 + 0.06 * lanes.billow(u * 1.5, 3, 3), 0.085) *
    ramp(1.25, 0.2, Math.abs(u));
  const dust = 1.9 * lane + 0.8 * bell(u + 0.12, 0.3) * lanes.ridges(u * 3.3, v * 3.1 + 9, 4) * bell(v, 0.16);

  // Plumes: two cones about the short axis, torn into threads that run outward.
  const height = Math.abs(v);
  const opening = 0.1 + 0.62 * height;
  const lean = u - 0.03 - 0.1 * v + 0.09 * lumps.billow(u * 1.2 + 9, v * 1.2, 3);
  const cone = bell(lean, opening) * ramp(0, 0.09, height);
  const walls = 0.35 + 0.9 * bell(Math.abs(lean) - 0.72 * opening, 0.35 * opening);
  const torn = threads.ridges((lean / (0.3 + opening)) * 2.3 + 5 * Math.sign(v), v * 1.15, 6);
  const plume = cone * walls * (0.12 + 1.9 * torn ** 1.3) * Math.exp(-height / 0.5) * (v > 0 ? 1 : 0.8);
  const beads = thin * knots.ridges(u * 5 + 3, v * 7 + 4, 5) ** 3;

  const ha = 0.034 * plume + 0.05 * nests + 0.03 * beads + 0.012 * burst;
  return {
    ha,
    oiii: 0.3 * ha,
    sii: 0.22 * ha,
    blue: 0.05 * thick + 0.085 * thin + 0.28 * nests + 0.05 * burst,
    green: 0.066 * thick + 0.08 * thin + 0.22 * nests + 0.055 * burst,
    red: 0.08 * thick + 0.075 * thin + 0.18 * nests + 0.06 * burst,
    dust,
  };
}

const FILTERS: readonly Filter[] = [
  { name: 'L', wavelength: 550, width: 260, exposure: 9000, fwhm: 2.4, sky: 0.058, glow: 0.22 },
  { name: 'R', wavelength: 640, width: 90, exposure: 5400, fwhm: 2.5, sky: 0.032, glow: 0.26 },
  { name: 'G', wavelength: 530, width: 90, exposure: 5400, fwhm: 2.6, sky: 0.03, glow: 0.24 },
  { name: 'B', wavelength: 450, width: 90, exposure: 5400, fwhm: 2.8, sky: 0.022, glow: 0.3 },
  { name: 'Ha', wavelength: 656, width: 5, exposure: 16_200, fwhm: 2.6, sky: 0.0071, glow: 0.3 },
];

const GRADIENTS: Record<string, Exposure['gradient']> = {
  L: { gx: -0.6, gy: -0.5, bend: 0.12 },
  R: { gx: -0.5, gy: -0.6, bend: 0.1 },
  G: { gx: -0.55, gy: -0.5, bend: 0.14 },
  B: { gx: -0.65, gy: -0.35, bend: 0.16 },
  Ha: { gx: 0.6, gy: -0.4, bend: 0.1 },
};

const ELECTRONS: Record<string, number> = { L: 620_000, R: 380_000, G: 380_000, B: 330_000, Ha: 90_000 };

/** A bright star of our own galaxy beside the Teasel, and a few that set off the picture. */
const NAMED: readonly DemoStar[] = [
  { x: 1216, y: 288, temperature: 4100, flux: 30 },
  { x: 268, y: 742, temperature: 9800, flux: 12 },
  { x: 452, y: 176, temperature: 6100, flux: 6 },
];

/** Another night and another camera angle: where a pixel of the other stacks lies in the hydrogen stack. */
const turnedAbout = (degrees: number, dx: number, dy: number) => {
  const a = (degrees * Math.PI) / 180;
  const [x, y] = [(SIZE.width - 1) / 2, (SIZE.height - 1) / 2];
  const turn = { xx: Math.cos(a), xy: -Math.sin(a), tx: 0, yx: Math.sin(a), yy: Math.cos(a), ty: 0 };
  return compose(compose({ ...IDENTITY, tx: -x, ty: -y }, turn), { ...IDENTITY, tx: x + dx, ty: y + dy });
};

export const TEASEL: DemoTarget = {
  name: 'Teasel',
  folder: 'teasel',
  size: SIZE,
  place: { ra: 141.2, dec: 52.6 },
  camera: 'Tawny mono camera',
  telescope: 'Long reflector',
  night: '2026-02-19T20:55:00',
  glow: teasel,
  lines: ['ha'],
  stars: (): DemoStar[] => [...NAMED, ...starField(131, SIZE.width, SIZE.height, 1700, 0.016)],
  stacks: exposuresOf({
    filters: FILTERS,
    gradients: GRADIENTS,
    electrons: ELECTRONS,
    ragged: { B: [5, 0, 0, 7] },
    readNoise: [0.00011, 0.00015],
    seeds: [2000, 19],
  }).map((exposure) => {
    const { name } = exposure.filter;
    return {
      label: name,
      filter: name,
      exposures: [exposure],
      ...(name === 'Ha' && { moved: turnedAbout(1.7, 14.3, -9.6) }),
    };
  }),
};
