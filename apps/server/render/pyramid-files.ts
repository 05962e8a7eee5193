/** A file in a pyramid's folder that holds the sums of its tiles. */
export const SUMS_FILE = 'sums.json';

/** Name of a level's file in a pyramid's folder. */
export const levelFile = (level: number): string => `level-${level}.f32`;
