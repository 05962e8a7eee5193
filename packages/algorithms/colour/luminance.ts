/** Weights of red, green and blue in luminance (ITU-R BT.709), whose primaries sRGB shares; of the numbers as they are. */
export const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;
