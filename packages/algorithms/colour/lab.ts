// CIE L*a*b* (CIE 15:2018) of light in Rec. 709 primaries; its white is D65, that of sRGB.

/** Three numbers of a colour. */
export type Colour = readonly [number, number, number];

/** XYZ of the primaries, rows X, Y, Z, to white of Y = 1. */
const TO_XYZ = [
  [0.41239079926595934, 0.35758433938387796, 0.18048078840183429],
  [0.21263900587151027, 0.7151686787677559, 0.07219231536073371],
  [0.01933081871559182, 0.11919477979462598, 0.9505321522496607],
] as const;
const FROM_XYZ = [
  [3.2409699419045226, -1.537383177570094, -0.4986107602930034],
  [-0.9692436362808796, 1.8759675015077202, 0.04155505740717559],
  [0.05563007969699366, -0.20397695888897652, 1.0569715142428786],
] as const;
const WHITE: Colour = [0.9504559270516716, 1, 1.0890577507598784];

/** Where the cube root gives way to a straight line, and the slope of that. */
const EDGE = 6 / 29;
const SLOPE = 3 * EDGE * EDGE;

const root = (t: number): number => (t > EDGE ** 3 ? Math.cbrt(t) : t / SLOPE + 4 / 29);
const cube = (f: number): number => (f > EDGE ? f * f * f : SLOPE * (f - 4 / 29));

const times = (m: typeof TO_XYZ | typeof FROM_XYZ, [x, y, z]: Colour): [number, number, number] => [
  m[0][0] * x + m[0][1] * y + m[0][2] * z,
  m[1][0] * x + m[1][1] * y + m[1][2] * z,
  m[2][0] * x + m[2][1] * y + m[2][2] * z,
];

/** L* (0–100), a*, b* of red, green and blue light. */
export function linearToLab(light: Colour): [number, number, number] {
  const [x, y, z] = times(TO_XYZ, light);
  const [fx, fy, fz] = [root(x / WHITE[0]), root(y), root(z / WHITE[2])];
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

/** Red, green and blue light of L*, a*, b*. */
export function labToLinear([l, a, b]: Colour): [number, number, number] {
  const f = (l + 16) / 116;
  return times(FROM_XYZ, [WHITE[0] * cube(f + a / 500), cube(f), WHITE[2] * cube(f - b / 200)]);
}

/** L* of a grey light. */
export const lightnessOf = (light: number): number => 116 * root(light) - 16;
