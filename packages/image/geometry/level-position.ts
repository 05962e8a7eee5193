/** Where the centre of a level's pixel lies in full-size pixels: `2^L·x + (2^L − 1)/2`. */
export const toFullSize = (x: number, level: number): number => 2 ** level * x + (2 ** level - 1) / 2;

/** Where a full-size position lies on a level: the inverse of {@link toFullSize}. */
export const toLevel = (x: number, level: number): number => (x - (2 ** level - 1) / 2) / 2 ** level;
