import { Chart, type ChartConfiguration, LinearScale, LineElement, PointElement, ScatterController } from 'chart.js';
import { useEffect, useRef } from 'react';
import type { ContinuumFit } from '@owl-loom/algorithms/continuum/result';

Chart.register(ScatterController, PointElement, LineElement, LinearScale);

const GRID = { color: '#242424' };
const LINE = '#f0b061';

/** A chart that is drawn anew whenever its numbers change. */
function Plot({ label, config }: { label: string; config: ChartConfiguration<'scatter'> }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!canvas.current) return undefined;
    const chart = new Chart(canvas.current, config);
    return () => chart.destroy();
  }, [config]);
  return (
    <div className="h-44 rounded-lg border border-edge bg-pit p-1.5">
      <canvas ref={canvas} aria-label={label} />
    </div>
  );
}

const options = (
  x: string,
  y: string,
  limits: { x?: [number, number]; y?: [number, number] },
): ChartConfiguration<'scatter'>['options'] => ({
  animation: false,
  maintainAspectRatio: false,
  events: [],
  scales: {
    x: {
      min: limits.x?.[0],
      max: limits.x?.[1],
      grid: GRID,
      ticks: { maxTicksLimit: 4 },
      title: { display: true, text: x },
    },
    y: {
      min: limits.y?.[0],
      max: limits.y?.[1],
      grid: GRID,
      ticks: { maxTicksLimit: 4 },
      title: { display: true, text: y },
    },
  },
});

/** Light of each star in the two images, with the line whose slope is k. */
export function StarChart({ found, line, broad, k }: { found: ContinuumFit; line: string; broad: string; k: number }) {
  const xs = found.pairs.map(([x]) => x).sort((a, b) => a - b);
  // The few brightest would press all others into a corner.
  const high = xs[Math.floor(xs.length * 0.92)] ?? 1;
  const points = (kept: 0 | 1) => found.pairs.filter((p) => p[4] === kept).map(([x, y]) => ({ x, y }));
  const config: ChartConfiguration<'scatter'> = {
    type: 'scatter',
    data: {
      datasets: [
        {
          data: [
            { x: 0, y: 0 },
            { x: high, y: k * high },
          ],
          showLine: true,
          borderColor: LINE,
          borderWidth: 2,
          pointRadius: 0,
        },
        { data: points(1), pointRadius: 1.6, pointBackgroundColor: '#cfcfcf', pointBorderWidth: 0 },
        { data: points(0), pointRadius: 1.6, pointBackgroundColor: '#5a5a5a', pointBorderWidth: 0 },
      ],
    },
    options: options(`stars in ${broad}`, line, { x: [0, high], y: [0, 1.6 * found.k * high] }),
  };
  return <Plot label={`Stars of ${line} against ${broad} with the line of k`} config={config} />;
}

/** Skewness of what is left at each k; the upright line is the k that is used. */
export function CurveChart({ found, k }: { found: ContinuumFit; k: number }) {
  const ys = found.curve.map(([, s]) => s);
  const [low, high] = [Math.min(...ys), Math.max(...ys)];
  const config: ChartConfiguration<'scatter'> = {
    type: 'scatter',
    data: {
      datasets: [
        {
          data: found.curve.map(([x, y]) => ({ x, y })),
          showLine: true,
          borderColor: '#cfcfcf',
          borderWidth: 1.6,
          pointRadius: 0,
        },
        {
          data: [
            { x: k, y: low },
            { x: k, y: high },
          ],
          showLine: true,
          borderColor: LINE,
          borderWidth: 1.6,
          pointRadius: 0,
        },
      ],
    },
    options: options('k', 'skewness left', {}),
  };
  return <Plot label="Skewness of what is left at each k" config={config} />;
}
