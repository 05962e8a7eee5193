import { held } from './lanes';
import { shareOf } from './lay';

// Layers laid on by whole colours: hue, saturation, colour, luminosity of W3C Compositing and Blending Level 1 (§10.2).

/** Luminosity as that specification weighs it, which is not Rec. 709. */
@inline
function lum(r: v128, g: v128, b: v128): v128 {
  const warm = f32x4.add(f32x4.mul(f32x4.splat(0.3), r), f32x4.mul(f32x4.splat(0.59), g));
  return f32x4.add(warm, f32x4.mul(f32x4.splat(0.11), b));
}

@inline
function lowestOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.min(f32x4.min(r, g), b);
}

@inline
function highestOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.max(f32x4.max(r, g), b);
}

/** A value drawn towards the luminosity of its colour until the colour lies within 0–1. */
@inline
function drawn(v: v128, l: v128, low: v128, high: v128): v128 {
  const one = f32x4.splat(1);
  const nought = f32x4.splat(0);
  // A grey lies beyond an end by rounding alone, and has no way to be drawn on.
  const down = f32x4.sub(l, low);
  const raised = f32x4.add(l, v128.andnot(f32x4.div(f32x4.mul(f32x4.sub(v, l), l), down), f32x4.le(down, nought)));
  const w = v128.bitselect(raised, v, f32x4.lt(low, nought));
  const up = f32x4.sub(high, l);
  const by = f32x4.div(f32x4.mul(f32x4.sub(w, l), f32x4.sub(one, l)), up);
  const lowered = f32x4.add(l, v128.andnot(by, f32x4.le(up, nought)));
  return v128.bitselect(lowered, w, f32x4.gt(high, one));
}

/** below + (blended − below)·part; where the top has no data the cloth below stays, where the cloth has none, the top lies on black. */
@inline
function put(b: v128, t: v128, mixed: v128, part: v128, absent: v128, bare: v128, out: usize): void {
  const laid = f32x4.add(b, f32x4.mul(f32x4.sub(mixed, b), part));
  v128.store(out, v128.bitselect(b, v128.bitselect(f32x4.mul(t, part), laid, bare), absent));
}

/**
 * Lays a colour on the cloth.
 * @param mode 0 hue, 1 saturation, 2 colour, 3 luminosity
 * @param mask 0 where there is none
 */
export function layColours(
  mode: i32,
  b0: usize,
  b1: usize,
  b2: usize,
  t0: usize,
  t1: usize,
  t2: usize,
  mask: usize,
  n: i32,
  opacity: f32,
  o0: usize,
  o1: usize,
  o2: usize,
): void {
  const whole = f32x4.splat(opacity);
  const nought = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const br = v128.load(b0 + at);
    const bg = v128.load(b1 + at);
    const bb = v128.load(b2 + at);
    const tr = v128.load(t0 + at);
    const tg = v128.load(t1 + at);
    const tb = v128.load(t2 + at);
    const hbr = held(br);
    const hbg = held(bg);
    const hbb = held(bb);
    const htr = held(tr);
    const htg = held(tg);
    const htb = held(tb);
    const under = lum(hbr, hbg, hbb);
    let r = htr;
    let g = htg;
    let b = htb;
    let light = under;
    if (mode === 3) {
      r = hbr;
      g = hbg;
      b = hbb;
      light = lum(htr, htg, htb);
    } else if (mode !== 2) {
      // The range of one colour given to the other.
      if (mode === 1) {
        r = hbr;
        g = hbg;
        b = hbb;
      }
      const low = lowestOf(r, g, b);
      const range = f32x4.sub(highestOf(r, g, b), low);
      const wanted =
        mode === 0
          ? f32x4.sub(highestOf(hbr, hbg, hbb), lowestOf(hbr, hbg, hbb))
          : f32x4.sub(highestOf(htr, htg, htb), lowestOf(htr, htg, htb));
      const grey = f32x4.le(range, nought);
      r = v128.andnot(f32x4.div(f32x4.mul(f32x4.sub(r, low), wanted), range), grey);
      g = v128.andnot(f32x4.div(f32x4.mul(f32x4.sub(g, low), wanted), range), grey);
      b = v128.andnot(f32x4.div(f32x4.mul(f32x4.sub(b, low), wanted), range), grey);
    }
    const shift = f32x4.sub(light, lum(r, g, b));
    r = f32x4.add(r, shift);
    g = f32x4.add(g, shift);
    b = f32x4.add(b, shift);
    const l = lum(r, g, b);
    const low = lowestOf(r, g, b);
    const high = highestOf(r, g, b);
    const part = shareOf(mask, at, whole);
    const absent = v128.or(v128.or(f32x4.ne(tr, tr), f32x4.ne(tg, tg)), f32x4.ne(tb, tb));
    const bare = v128.or(v128.or(f32x4.ne(br, br), f32x4.ne(bg, bg)), f32x4.ne(bb, bb));
    put(br, tr, drawn(r, l, low, high), part, absent, bare, o0 + at);
    put(bg, tg, drawn(g, l, low, high), part, absent, bare, o1 + at);
    put(bb, tb, drawn(b, l, low, high), part, absent, bare, o2 + at);
  }
}
