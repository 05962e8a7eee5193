/** α of Moffat's profile (1969) `(1 + r²/α²)^−β` of a full width at half maximum. */
const alphaOf = (fwhm: number, beta: number): number => fwhm / 2 / Math.sqrt(2 ** (1 / beta) - 1);

/** Moffat's profile, 1 in the middle. */
export function moffat(fwhm: number, beta: number): (radius: number) => number {
  const alpha2 = (fwhm / 2) ** 2 / (2 ** (1 / beta) - 1);
  return (radius) => (1 + (radius * radius) / alpha2) ** -beta;
}

/** How far from its middle the profile has fallen to one part in so many; 0 for one part in less than one. */
export const moffatRadius = (fwhm: number, beta: number, parts: number): number =>
  alphaOf(fwhm, beta) * Math.sqrt(Math.max(1, parts) ** (1 / beta) - 1);

/** Share of the profile's light within a radius: `1 − (1 + r²/α²)^(1 − β)`. */
export const moffatShare = (fwhm: number, beta: number, radius: number): number =>
  1 - (1 + (radius / alphaOf(fwhm, beta)) ** 2) ** (1 - beta);
