/** A filter of the demo camera. */
export interface Filter {
  readonly name: string;
  /** Middle of the passband, nanometres. */
  readonly wavelength: number;
  /** Width of the passband times its transmission, nanometres. */
  readonly width: number;
  /** Whole exposure, seconds. */
  readonly exposure: number;
  /** Seeing, full width at half maximum in pixels. */
  readonly fwhm: number;
  /** Sky in the middle of the frame, as a share of full well. */
  readonly sky: number;
  /** How strong the town's glow is, relative to the sky. */
  readonly glow: number;
}

/** Planck's law at a wavelength in nanometres, over its value for the sun's 5772 K: a star's colour with the sun white. */
export function starlight(temperature: number, wavelength: number): number {
  const planck = (t: number) => 1 / (Math.exp(14_387_769 / (wavelength * t)) - 1);
  return planck(temperature) / planck(5772);
}

/** How much more dust dims at a wavelength than at 550 nm (a power law near that of Cardelli et al. 1989). */
export const dimming = (wavelength: number): number => (550 / wavelength) ** 1.35;
