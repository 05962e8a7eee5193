import { linearToSrgb, srgbToLinear } from './srgb';

/** Light in Rec. 709 primaries to light in those of Display P3, both of a D65 white. */
const TO_P3 = [
  [0.8224619687, 0.1775380313, 0],
  [0.0331941989, 0.9668058011, 0],
  [0.0170826307, 0.0723974407, 0.9105199286],
] as const;

/**
 * Brings numbers coded by sRGB to the same colours coded for Display P3, whose curve is the same. No data stays.
 * @param planes red, green and blue; changed in place
 */
export function toDisplayP3(planes: readonly Float32Array[]): void {
  const [red, green, blue] = planes;
  for (let i = 0; i < red.length; i++) {
    const light = [srgbToLinear(red[i]), srgbToLinear(green[i]), srgbToLinear(blue[i])];
    planes.forEach((plane, p) => {
      const [r, g, b] = TO_P3[p];
      plane[i] = linearToSrgb(r * light[0] + g * light[1] + b * light[2]);
    });
  }
}
