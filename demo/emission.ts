/** Light of the gas lines and of dust-scattered starlight, and the dust in front, at one place. Lines in full wells through their own filter. */
export interface Glow {
  ha: number;
  oiii: number;
  sii: number;
  /** Scattered starlight at 450, 530 and 640 nm. */
  blue: number;
  green: number;
  red: number;
  /** Optical depth at 550 nm. */
  dust: number;
}
