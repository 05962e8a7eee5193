import { describe, expect, it } from 'vitest';
import type { RemovedStars } from '@owl-loom/algorithms/star-removal/packed';
import { paintTargetOf } from './painting';
import { toggleManualStar } from './manual-stars';

const beam = (x: number, y: number) => ({ x, y, table: new Float64Array(64), reach: 9, spikes: [] });
const stars: RemovedStars = { beams: [[beam(100, 50), beam(106, 50)]], gaps: [] };

describe('a touch of a picture without stars', () => {
  it('spares the star that is nearest, and takes it again', () => {
    const spared = toggleManualStar({}, stars, { x: 104.6, y: 50.4 }, 5);
    expect(spared).toEqual({ spare: [{ x: 106, y: 50 }] });
    expect(toggleManualStar(spared, stars, { x: 105, y: 51 }, 5)).toEqual({ spare: [] });
  });

  it('takes a circle where no star was, as large as the last one, and gives it back', () => {
    const first = toggleManualStar({}, stars, { x: 200.4, y: 80.6 }, 5);
    expect(first).toEqual({ also: [{ x: 200, y: 81, radius: 8 }] });
    const next = toggleManualStar({ also: [{ x: 200, y: 81, radius: 20 }] }, undefined, { x: 300, y: 10 }, 5);
    expect(next.also?.at(-1)).toEqual({ x: 300, y: 10, radius: 20 });
    expect(toggleManualStar({ also: [{ x: 200, y: 81, radius: 20 }] }, stars, { x: 214, y: 81 }, 5)).toEqual({
      also: [],
    });
  });
});

describe('the brush', () => {
  it('paints over blemishes where a step mends, and nowhere else in a step', () => {
    const recipe = {
      format: 'owl-loom-recipe' as const,
      version: 1 as const,
      strands: [
        {
          id: 'L',
          from: { stack: 'L' },
          steps: [
            { do: 'mend', strokes: [{ radius: 3, points: [[1, 2]] }] },
            { do: 'blur', radius: 2 },
          ],
        },
      ],
    };
    const paper = paintTargetOf(recipe, 'strands[0].steps[0]');
    expect(paper?.path).toBe('strands[0].steps[0].strokes');
    expect(paper?.strokes.length).toBe(1);
    const brush = { shape: 'stroke' as const, mode: 'hide' as const, radius: 6.04, soft: 3, strength: 0.5 };
    expect(paper?.stroke([{ x: 1.23, y: 4 }], brush, 1)).toEqual({ radius: 6, points: [[1.2, 4]] });
    expect(paintTargetOf(recipe, 'strands[0].steps[1]')).toBeUndefined();
  });
});
