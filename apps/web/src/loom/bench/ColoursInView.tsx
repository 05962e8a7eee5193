import { useEffect, useRef } from 'react';
import { CELLS, type ColourHistogram } from '@owl-loom/algorithms/colour/colour-histogram';
import { oklabToLinear } from '@owl-loom/algorithms/colour/oklch';
import { linearToSrgb } from '@owl-loom/algorithms/colour/srgb';
import { Section } from '../fields/Rows';
import { useColourHistogram } from '../fields/use-colours';

/** Chroma at which a faint colour is drawn, so that its hue is seen. */
const SHOWN = 0.11;

/** The plane of colours: each place in its own hue, the brighter the more pixels lie there. */
function painted({ plane, reach }: ColourHistogram): ImageData {
  const max = Math.log1p(plane.reduce((best, n) => Math.max(best, n), 1));
  const image = new ImageData(CELLS, CELLS);
  const by = Math.max(1, SHOWN / reach) * (reach / (CELLS / 2));
  plane.forEach((n, i) => {
    if (n === 0) return;
    const much = Math.log1p(n) / max;
    const [a, b] = [(i % CELLS) + 0.5 - CELLS / 2, Math.floor(i / CELLS) + 0.5 - CELLS / 2];
    const light = oklabToLinear([0.3 + 0.6 * much, by * a, by * b]);
    const at = ((CELLS - 1 - Math.floor(i / CELLS)) * CELLS + (i % CELLS)) * 4;
    light.forEach((v, p) => {
      image.data[at + p] = 255 * linearToSrgb(Math.max(0, v));
    });
    image.data[at + 3] = 255 * (0.35 + 0.65 * much);
  });
  return image;
}

/** Chroma against hue of what is in view, live: greys in the middle, hues about it as on the ring. */
export function ColoursInView({ path }: { path: string }) {
  const colours = useColourHistogram(path);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.clearRect(0, 0, CELLS, CELLS);
    if (colours) context.putImageData(painted(colours), 0, 0);
  }, [colours]);
  const reach = colours?.reach ?? 0.2;
  return (
    <Section title="Hue and chroma in view">
      <div className="relative rounded-lg border border-edge bg-pit p-2">
        <canvas
          ref={canvas}
          width={CELLS}
          height={CELLS}
          className="mx-auto block aspect-square w-full max-w-64 rounded-full"
          role="img"
          aria-label="Chroma against hue of the picture in view"
          data-reach={reach}
        />
        <svg
          viewBox="-100 -100 200 200"
          className="pointer-events-none absolute inset-2 mx-auto aspect-square max-w-64"
          aria-hidden="true"
        >
          {[50, 99].map((r) => (
            <circle key={r} r={r} fill="none" stroke="var(--color-rim)" strokeWidth={0.8} />
          ))}
          <path d="M-99 0H99M0 -99V99" stroke="var(--color-edge)" strokeWidth={0.6} />
          {[0, 60, 120, 180, 240, 300].map((hue) => {
            const angle = (hue * Math.PI) / 180;
            const [x, y] = [Math.cos(angle), -Math.sin(angle)];
            return (
              <path
                key={hue}
                d={`M${93 * x} ${93 * y}L${99 * x} ${99 * y}`}
                stroke={`oklch(72% 0.13 ${hue})`}
                strokeWidth={4}
              />
            );
          })}
        </svg>
        <p className="figures absolute right-3 bottom-2 text-hush">rim {reach}</p>
      </div>
    </Section>
  );
}
