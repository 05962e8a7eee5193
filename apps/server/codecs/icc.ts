import type { Profile } from '@owl-loom/api/exports';

/** ICC profiles of our own making (ICC.1:2010), for colour and for grey. Built, not shipped, so that nothing binary lies in the tree. */

const fixed = (value: number): number => Math.round(value * 65536);

function tag(signature: string, body: number): Buffer {
  const out = Buffer.alloc(8 + body);
  out.write(signature, 0, 'latin1');
  return out;
}

function text(words: string): Buffer {
  const out = tag('mluc', 20 + words.length * 2);
  out.writeUInt32BE(1, 8);
  out.writeUInt32BE(12, 12);
  out.write('enUS', 16, 'latin1');
  out.writeUInt32BE(words.length * 2, 20);
  out.writeUInt32BE(28, 24);
  for (let i = 0; i < words.length; i++) out.writeUInt16BE(words.charCodeAt(i), 28 + 2 * i);
  return out;
}

function xyz(...values: readonly number[]): Buffer {
  const out = tag('XYZ ', 12);
  values.forEach((value, i) => out.writeInt32BE(fixed(value), 8 + 4 * i));
  return out;
}

/** sRGB's curve, IEC 61966-2-1: `((a·x + b)^g` from d up, `c·x` below. */
function srgbCurve(): Buffer {
  const out = tag('para', 24);
  out.writeUInt16BE(3, 8);
  [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045].forEach((value, i) => out.writeInt32BE(fixed(value), 12 + 4 * i));
  return out;
}

/** Bradford adaptation from D65 to D50, as the profile's white demands. */
function adaptation(): Buffer {
  const out = tag('sf32', 36);
  [1.0478112, 0.0228866, -0.050127, 0.0295424, 0.9904844, -0.0170491, -0.0092345, 0.0150436, 0.7521316].forEach(
    (value, i) => out.writeInt32BE(fixed(value), 8 + 4 * i),
  );
  return out;
}

function profile(space: 'RGB ' | 'GRAY', tags: readonly [string, Buffer][]): Buffer {
  const table = 4 + 12 * tags.length;
  let offset = 128 + table;
  const entries = tags.map(([name, body]) => {
    const entry = { name, body, offset };
    offset += Math.ceil(body.length / 4) * 4;
    return entry;
  });
  const out = Buffer.alloc(offset);
  out.writeUInt32BE(offset, 0);
  out.writeUInt32BE(0x04200000, 8);
  out.write(`mntr${space}XYZ `, 12, 'latin1');
  [2026, 1, 1, 0, 0, 0].forEach((value, i) => out.writeUInt16BE(value, 24 + 2 * i));
  out.write('acsp', 36, 'latin1');
  [0.9642, 1, 0.8249].forEach((value, i) => out.writeInt32BE(fixed(value), 68 + 4 * i));
  out.writeUInt32BE(tags.length, 128);
  entries.forEach(({ name, body, offset: at }, i) => {
    out.write(name, 132 + 12 * i, 'latin1');
    out.writeUInt32BE(at, 136 + 12 * i);
    out.writeUInt32BE(body.length, 140 + 12 * i);
    body.copy(out, at);
  });
  return out;
}

const white = xyz(0.9642, 1, 0.8249);
const rights = text('No rights reserved');

/** Light as it is: the curve that changes nothing. */
function straight(): Buffer {
  return tag('curv', 4);
}

/** What the numbers of a picture mean: sRGB, Display P3 (the same curve on wider primaries), or light in sRGB's primaries. */

const NAMES: Readonly<Record<Profile, readonly [grey: string, colour: string]>> = {
  srgb: ['Grey with the sRGB curve', 'sRGB'],
  p3: ['Grey with the sRGB curve', 'Display P3'],
  linear: ['Linear grey', 'Linear light, sRGB primaries'],
};

/** Red, green and blue adapted to D50. */
const SRGB_PRIMARIES = [
  [0.4360747, 0.2225045, 0.0139322],
  [0.3850649, 0.7168786, 0.0971045],
  [0.1430804, 0.0606169, 0.7141733],
] as const;
const P3_PRIMARIES = [
  [0.51512, 0.2412, -0.00105],
  [0.29198, 0.69225, 0.04189],
  [0.1571, 0.06657, 0.78407],
] as const;

/** The profile that goes into a picture of one or three planes. */
export function iccProfile(of: Profile, planes: 1 | 3): Buffer {
  const curve = of === 'linear' ? straight() : srgbCurve();
  const description = text(NAMES[of][planes === 1 ? 0 : 1]);
  const common: [string, Buffer][] = [
    ['desc', description],
    ['cprt', rights],
    ['wtpt', white],
  ];
  if (planes === 1) return profile('GRAY', [...common, ['kTRC', curve]]);
  const [r, g, b] = of === 'p3' ? P3_PRIMARIES : SRGB_PRIMARIES;
  return profile('RGB ', [
    ...common,
    ['chad', adaptation()],
    ['rXYZ', xyz(...r)],
    ['gXYZ', xyz(...g)],
    ['bXYZ', xyz(...b)],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ]);
}
