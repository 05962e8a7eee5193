import { Chart, LinearScale, LineElement, PointElement, ScatterController } from 'chart.js';
import { useEffect, useRef } from 'react';
import type { Measurement } from '@owl-loom/engine/measurements/index';

Chart.register(ScatterController, PointElement, LineElement, LinearScale);
Chart.defaults.font.family = 'Spline Sans Mono';
Chart.defaults.font.size = 10;
Chart.defaults.color = '#8f8f8f';

type FitFigure = Extract<Measurement, { kind: 'fit' }>;

/** Pixels of the two images against each other, with the line that was fitted; pixels that it left out are dim. */
export function ScatterChart({
  fit,
  target,
  reference,
  colour,
}: {
  fit: FitFigure;
  target: string;
  reference: string;
  colour: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const xs = fit.sample.map(([x]) => x).sort((p, q) => p - q);
    const { a, b } = fit.planes[0];
    const low = xs[0] ?? 0;
    // A handful of star cores would press everything else into a corner.
    const high = xs[Math.floor(xs.length * 0.86)] ?? 1;
    const ys = fit.sample
      .filter(([x]) => x <= high)
      .map(([, y]) => y)
      .sort((p, q) => p - q);
    const hue = getComputedStyle(document.documentElement).getPropertyValue(colour.slice(4, -1)) || '#cccccc';
    const chart = new Chart(element, {
      type: 'scatter',
      data: {
        datasets: [
          {
            data: [
              { x: low, y: a + b * low },
              { x: high, y: a + b * high },
            ],
            showLine: true,
            borderColor: '#f0b061',
            borderWidth: 2,
            pointRadius: 0,
          },
          {
            data: fit.sample.filter(([, , kept]) => kept).map(([x, y]) => ({ x, y })),
            pointRadius: 1.5,
            pointBackgroundColor: hue,
            pointBorderWidth: 0,
          },
          {
            data: fit.sample.filter(([, , kept]) => !kept).map(([x, y]) => ({ x, y })),
            pointRadius: 1.5,
            pointBackgroundColor: '#5a5a5a',
            pointBorderWidth: 0,
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        events: [],
        scales: {
          x: {
            min: low,
            max: high,
            grid: { color: '#242424' },
            ticks: { maxTicksLimit: 4 },
            title: { display: true, text: target },
          },
          y: {
            min: ys[0],
            max: ys[Math.floor(ys.length * 0.99)],
            grid: { color: '#242424' },
            ticks: { maxTicksLimit: 4 },
            title: { display: true, text: reference },
          },
        },
      },
    });
    return () => chart.destroy();
  }, [fit, target, reference, colour]);
  return (
    <div className="h-44 rounded-lg border border-edge bg-pit p-1.5">
      <canvas ref={canvas} aria-label={`${target} against ${reference} with the fitted line`} />
    </div>
  );
}
