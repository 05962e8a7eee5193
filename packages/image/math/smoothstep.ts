/** 0 below nought, 1 above one, and 3t² − 2t³ between. */
export const smoothstep = (t: number): number => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t));
