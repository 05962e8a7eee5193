/** A file in a pyramid's folder that holds the sums of its tiles. */
export const SUMS_FILE = 'sums.json';

/** Name of a level's file in a pyramid's folder. */
export const levelFile = (level: number): string => `level-${level}.f32`;

/** The parts in which a plane's pyramid is written, side by side: the full size, which is most of it, and all that is coarser. */
export const PYRAMID_PARTS = ['full', 'coarser'] as const;

export type PyramidPart = (typeof PYRAMID_PARTS)[number];
