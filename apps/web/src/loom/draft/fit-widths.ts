/** From bead to bead, with the gap between them; below `legible` names are cut. */
export const BEAD = { most: 106, legible: 92, least: 76, gap: 14 };
const LAYER = { most: 286, least: 226 };
/** From line to line of the cloth's steps, and how many there are at most. */
export const CLOTH_ROW = 32;
const MOST_LINES = 4;

export const held = (value: number, min: number, max: number): number => Math.max(min, Math.min(max, value));

/**
 * How wide beads and layer cards are, and in how many lines the cloth's steps stand: beads have names to be read, so a long finish goes on
 * below.
 * @param width what beads and cards have to share
 */
export function fitWidths(
  width: number,
  max: number,
  clothSteps: number,
  space: number,
): { lines: number; layerWidth: number; pitch: number } {
  const of = (lines: number) => {
    const beads = max + Math.ceil(clothSteps / lines);
    const layerWidth = held(width - BEAD.most * beads, LAYER.least, LAYER.most);
    return { lines, layerWidth, pitch: held((width - layerWidth) / beads, BEAD.least, BEAD.most) };
  };
  const highest = Math.max(1, Math.min(MOST_LINES, Math.floor(space / CLOTH_ROW), clothSteps));
  let found = of(1);
  while (found.lines < highest && found.pitch < BEAD.legible) found = of(found.lines + 1);
  return found;
}
