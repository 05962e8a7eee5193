/** Blend modes that work; below and top are the cloth under the layer and the layer. */
export const BLENDS = {
  normal: (_below: number, top: number) => top,
  add: (below: number, top: number) => below + top,
  /** W3C Compositing and Blending Level 1 §10.1.2, defined on 0–1. */
  screen: (below: number, top: number) => {
    const a = below < 0 ? 0 : below > 1 ? 1 : below;
    const b = top < 0 ? 0 : top > 1 ? 1 : top;
    return a + b - a * b;
  },
  /** W3C §10.1.5. */
  lighten: (below: number, top: number) => (below > top ? below : top),
} as const;

export type BlendMode = keyof typeof BLENDS;

/** Modes of the recipe that are still to come. */
export const PLANNED_BLENDS = [
  'multiply',
  'overlay',
  'darken',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
  'subtract',
  'average',
  'linear-light',
] as const;

export const isBlend = (name: string): name is BlendMode => Object.hasOwn(BLENDS, name);

/** Modes that make sense only on data made for display. */
export const DISPLAY_BLENDS: ReadonlySet<string> = new Set([
  'screen',
  'overlay',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'linear-light',
  'hue',
  'saturation',
  'color',
  'luminosity',
  'multiply',
  'exclusion',
]);
