import { describe, expect, it } from 'vitest';
import type { Step } from '@owl-loom/recipe/schema';
import { makeSky } from '@owl-loom/testing/skies';
import { graphOf, recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';

const [width, height] = [320, 260];
const sky = makeSky({ width, height, seed: 21, stars: 70, fwhm: 3, beta: 4, noise: 0.001 });
const [dx, dy] = [7, -4];

/** The same sky seen from a little beside: what lies at (x, y) here lies at (x + dx, y + dy) there. */
function shifted(): TestStack {
  const plane = new Float32Array(width * height).fill(Number.NaN);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x + dx, y + dy];
      if (u >= 0 && u < width && v >= 0 && v < height) plane[y * width + x] = sky.plane[v * width + u];
    }
  return { width, height, planes: [plane] };
}

const stacks: Record<string, TestStack> = {
  Ha: { width, height, planes: [sky.plane] },
  OIII: shifted(),
  // Three tenths of the starlight of Ha.
  R: { width, height, planes: [sky.plane.map((v) => 0.02 + 0.3 * (v - 0.05))] },
};
const bare: Step = { do: 'starless' };
const align: Step = { do: 'align', to: 'Ha' };

const mapOf = (oiii: Step[], ha: Step[]) => {
  const at = oiii.findIndex((step) => step.do === 'align');
  const { measured } = evaluateRecipe(recipeOf([strand('Ha', ha), strand('OIII', oiii)]), stacks, 'strands[1]');
  return measured[`strands[1].steps[${at}]`] as { matrix: number[][]; matched: number };
};

describe('stars that were removed', () => {
  it.each([
    ['from the reference', [align], [bare]],
    ['from both, before', [bare, align], [bare]],
    ['from both, the reference filtered since', [align, bare], [bare, { do: 'denoise' }, { do: 'stretch' }]],
    ['from an image that is scaled since', [bare, { do: 'scale', multiply: 3 }, align], [bare]],
  ] as [string, Step[], Step[]][])('still align images: %s', (_, oiii, ha) => {
    const { matrix, matched } = mapOf(oiii, ha);
    expect(matched).toBeGreaterThan(20);
    expect(matrix[0][2]).toBeCloseTo(dx, 1);
    expect(matrix[1][2]).toBeCloseTo(dy, 1);
    expect(matrix[0][0]).toBeCloseTo(1, 3);
  });

  it('align an image where a move after the removal has brought it', () => {
    const { matrix } = mapOf([bare, { do: 'place', dx: 3, dy: 1 }, align], [bare]);
    expect(matrix[0][2]).toBeCloseTo(dx - 3, 1);
    expect(matrix[1][2]).toBeCloseTo(dy - 1, 1);
  });

  it('tell the continuum as they did before, on the scale of what is left', () => {
    const k = (line: Step[], broad: Step[]) => {
      const steps: Step[] = [...line, { do: 'continuum', broad: 'R', mend: true }];
      const { measured } = evaluateRecipe(recipeOf([strand('Ha', steps), strand('R', broad)]), stacks, 'strands[0]');
      return (measured[`strands[0].steps[${line.length}]`] as { k: number }).k;
    };
    expect(k([], [])).toBeCloseTo(1 / 0.3, 2);
    expect(k([bare], [bare])).toBeCloseTo(1 / 0.3, 2);
    expect(k([bare, { do: 'scale', multiply: 2 }], [bare])).toBeCloseTo(2 / 0.3, 2);
  });

  it('make a star mask, and the width to match', () => {
    const recipe = (steps: Step[]) => ({
      ...recipeOf([strand('Ha', steps), strand('OIII', [{ do: 'match-seeing', to: 'Ha' }])]),
      masks: [{ id: 'stars', of: { starMask: 'Ha' } }],
    });
    const [before, after] = [recipe([]), recipe([bare])].map(
      (made) => evaluateRecipe(made, stacks, 'masks[0]').measured,
    );
    expect(after['masks[0].of']).toEqual(before['masks[0].of']);
    const { measured } = evaluateRecipe(recipe([bare]), stacks, 'strands[1]');
    expect((measured['strands[1].steps[0]'] as { to: number }).to).toBeCloseTo(3, 0);
  });

  it('leave nothing to steps that work on stars, which say so', () => {
    const { warnings, byPath } = graphOf(recipeOf([strand('Ha', [bare, { do: 'star-shrink' }])]), stacks);
    expect(warnings).toMatchObject([
      { path: 'strands[0].steps[1]', message: expect.stringMatching(/removed the stars/) },
    ]);
    expect(byPath.get('strands[0].steps[1]')).toBe(byPath.get('strands[0].steps[0]'));
  });

  it('change no hash of a recipe that removes none', () => {
    const { nodes, withStars } = graphOf(recipeOf([strand('Ha'), strand('OIII', [align])]), stacks);
    expect([...withStars].every(([from, to]) => from === to)).toBe(true);
    expect(nodes).toHaveLength(3);
  });
});
