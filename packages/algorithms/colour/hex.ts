/** `#rrggbb` as three numbers from 0 to 1, still sRGB-coded. */
export function parseHexColour(hex: string): [number, number, number] {
  const at = (i: number) => Number.parseInt(hex.slice(i, i + 2), 16) / 255;
  return [at(1), at(3), at(5)];
}
