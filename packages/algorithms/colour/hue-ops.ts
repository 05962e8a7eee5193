import { runOnPlanes } from '@owl-loom/image/kernels/planes';
import { wasmKernels } from '@owl-loom/image/kernels/wasm';
import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { FULL_CHROMA, chromaWeight, GREY, hueMembership, numbersOf as familyNumbers } from './hue-membership';
import type { Colour } from './lab';
import { oklabToLinear, linearToOklab } from './oklch';
import { linearToSrgb, srgbToLinear } from './srgb';

type Planes = readonly Float32Array[];

/** One family of hues and what is done to it; angles in degrees of OKLCh. */
export interface HueBandOp {
  readonly centre: number;
  /** From end to end, where it counts fully. */
  readonly width: number;
  /** Over which it falls to nothing on either side. */
  readonly soft: number;
  readonly turn: number;
  /** Times the chroma. */
  readonly chroma: number;
  /** Added to OKLab's L. */
  readonly lightness: number;
  /** Added to red, green and blue as they are coded. */
  readonly shift: readonly number[];
}

/** Chroma between which a work begins to act and acts fully. */
export interface ChromaRange {
  readonly grey: number;
  readonly full: number;
}

/** As families of hues act where nothing is said. */
export const COLOURED_RANGE: ChromaRange = { grey: GREY * FULL_CHROMA, full: FULL_CHROMA };

/** How much a colour belongs to a band, by its a and b. */
const shareOf = ({ centre, width, soft }: HueBandOp, { grey, full }: ChromaRange = COLOURED_RANGE) =>
  hueMembership({ centre, width, soft, chroma: full, grey });

const labOf = (planes: Planes, i: number): Colour =>
  linearToOklab([srgbToLinear(planes[0][i]), srgbToLinear(planes[1][i]), srgbToLinear(planes[2][i])]);

/** How much more colourful an image becomes: −1 grey, 1 double; `shadows` is the share of it that dark pixels get. */
export interface SaturationOp {
  readonly amount: number;
  readonly shadows: number;
}

/** Something done to colours in OKLab: what a band says, or OKLCh chroma times `1 + amount·w`, `w = shadows + (1 − shadows)·smoothstep(0, 0.3, L)`. */
export type ColourOp = ({ readonly band: HueBandOp } | { readonly enriching: SaturationOp }) & {
  /** Colours on which it acts: where it is left out a band on {@link COLOURED_RANGE}, chroma as a whole on all. */
  readonly on?: ChromaRange;
};

const RADIANS = Math.PI / 180;
/** OKLab's L from which on a pixel is no shadow. */
const LIT = 0.3;
const NO_SHIFT = [0, 0, 0] as const;

const shiftOf = (work: ColourOp): readonly number[] => ('band' in work ? work.band.shift : NO_SHIFT);

/** Whether a work changes anything at all. */
function changes(work: ColourOp): boolean {
  if ('enriching' in work) return work.enriching.amount !== 0;
  const { turn, chroma, lightness, shift } = work.band;
  return turn !== 0 || chroma !== 1 || lightness !== 0 || shift.some((v) => v !== 0);
}

/** Works that can be done in one: a push acts on the coded numbers, so that it is the last of its run. */
function runsOf(works: readonly ColourOp[]): ColourOp[][] {
  const runs: ColourOp[][] = [];
  let open = false;
  for (const work of works.filter(changes)) {
    if (open) runs[runs.length - 1].push(work);
    else runs.push([work]);
    open = shiftOf(work).every((v) => v === 0);
  }
  return runs;
}

/** Where the kernel looks for the kind of a work. */
const KIND = 12;

/** What the kernel takes of a work: 16 numbers. */
function numbersOf(work: ColourOp): number[] {
  const filled = (numbers: readonly number[], kind: number): number[] => [
    ...numbers,
    ...new Array<number>(KIND - numbers.length).fill(0),
    kind,
    0,
    0,
    0,
  ];
  if ('enriching' in work) {
    // Without a range every chroma lies beyond its end.
    const { grey, full } = work.on ?? { grey: -1, full: 0 };
    return filled([work.enriching.amount, work.enriching.shadows, grey, 1 / Math.max(1e-9, full - grey)], 1);
  }
  const { turn, chroma, lightness, shift } = work.band;
  const { grey, full } = work.on ?? COLOURED_RANGE;
  const family = familyNumbers({ ...work.band, chroma: full, grey });
  return filled([...family, turn * RADIANS, chroma - 1, lightness, ...shift], 0);
}

/** Most works that go through the pixels together. */
const MOST = 16;

/**
 * Works at colours one after another: turns, enriches or dulls, lifts, pushes. What no work touches stays as it is.
 * @param planes red, green and blue, coded by sRGB
 * @param out three planes, which may be those that are read
 */
export function applyColourOps(planes: Planes, works: readonly ColourOp[], out: Planes): void {
  const wasm = wasmKernels();
  if (!wasm) {
    workColoursPlain(planes, works, out);
    return;
  }
  const parts = runsOf(works).flatMap((run) =>
    Array.from({ length: Math.ceil(run.length / MOST) }, (_, i) => run.slice(i * MOST, (i + 1) * MOST)),
  );
  inTurn(planes, parts, out, (from, part) => {
    const numbers = part.flatMap(numbersOf);
    runOnPlanes(wasm, from, out, (n, a, b) => {
      wasm.run.workColours(wasm.pointers([...a, ...b]), n, wasm.numbers(numbers), part.length);
    });
  });
}

/** {@link applyColourOps} in plain TypeScript, in double precision: the reference. */
export function workColoursPlain(planes: Planes, works: readonly ColourOp[], out: Planes): void {
  inTurn(planes, runsOf(works), out, (from, run) => workPlain(from, run, out));
}

/** Does one thing after another to an image, each to what the one before has made; an image to which nothing is done stays as it is. */
function inTurn<T>(planes: Planes, parts: readonly T[], out: Planes, deed: (from: Planes, part: T) => void): void {
  if (parts.length === 0) out.forEach((to, p) => to.set(planes[p]));
  parts.forEach((part, i) => deed(i === 0 ? planes : out, part));
}

/** Runs whose last work alone may push. */
function workPlain(planes: Planes, run: readonly ColourOp[], out: Planes): void {
  const shares = run.map(({ on, ...work }) =>
    'band' in work
      ? shareOf(work.band, on)
      : on
        ? (a: number, b: number) => chromaWeight(Math.sqrt(a * a + b * b), on.full, on.grey)
        : () => 1,
  );
  for (let i = 0; i < out[0].length; i++) {
    let [l, a, b] = labOf(planes, i);
    let touched = l !== l;
    let share = 0;
    run.forEach((work, k) => {
      share = shares[k](a, b);
      if (!(share > 0)) return;
      touched = true;
      const change = 'band' in work ? turned(work.band, share) : enriched(work.enriching, l, share);
      [l, a, b] = [l + change.lightness, change.along * a - change.aside * b, change.along * b + change.aside * a];
    });
    const light = oklabToLinear([l, a, b]);
    const shift = shiftOf(run[run.length - 1]);
    const now = [0, 1, 2].map((p) => (touched ? linearToSrgb(light[p]) + share * shift[p] : planes[p][i]));
    out.forEach((to, p) => {
      to[i] = now[p];
    });
  }
}

/** What a work does to one colour: L moves, a and b are turned and stretched. */
interface ColourChange {
  readonly lightness: number;
  readonly along: number;
  readonly aside: number;
}

function turned({ turn, chroma, lightness }: HueBandOp, share: number): ColourChange {
  const by = 1 + share * (chroma - 1);
  const angle = share * turn * RADIANS;
  return { lightness: share * lightness, along: by * Math.cos(angle), aside: by * Math.sin(angle) };
}

const enriched = ({ amount, shadows }: SaturationOp, l: number, share: number): ColourChange => ({
  lightness: 0,
  along: 1 + share * amount * (shadows + (1 - shadows) * smoothstep(l / LIT)),
  aside: 0,
});
