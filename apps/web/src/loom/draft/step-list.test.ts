import { describe, expect, it } from 'vitest';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { elsewhere, meantScore, addableSteps } from './step-list';

const kindsIn = (groups: ReturnType<typeof addableSteps>) => groups.flatMap(({ steps }) => steps);
const found = (typed: string) =>
  [...STEP_SPECS.values()].filter((kind) => meantScore(kind, typed) > 0).map((kind) => kind.do);

describe('steps that can be added', () => {
  it('are all offered somewhere, each once', () => {
    const mono = kindsIn(addableSteps({ planes: 1, domain: 'linear' }, false)).map(({ kind }) => kind.do);
    const colour = kindsIn(addableSteps({ planes: 3, domain: 'linear' }, false)).map(({ kind }) => kind.do);
    expect(new Set(mono).size).toBe(mono.length);
    expect(new Set([...mono, ...colour])).toEqual(new Set(STEP_SPECS.keys()));
  });

  it('say where they cannot stand, and where they can', () => {
    const cannot = (planes: 1 | 3) =>
      Object.fromEntries(
        kindsIn(addableSteps({ planes, domain: 'linear' }, false)).map((step) => [step.kind.do, step.cannot]),
      );
    expect(cannot(3).continuum).toMatch(/strand of one filter/);
    expect(cannot(3).calibrate).toBeUndefined();
    expect(cannot(1).calibrate).toMatch(/cloth/);
    expect(cannot(1).tint).toBeUndefined();
  });

  it.each([
    ['stars only', 'stars-only'],
    ['sharpen', 'sharpen'],
    ['contrast', 'curves'],
    ['less green', 'cap'],
    ['take green out', 'cap'],
    ['reduce magenta', 'cap'],
    ['straighten', 'place'],
    ['colorize', 'tint'],
    ['align', 'align'],
    ['star', 'starless'],
    ['lev', 'level-sky'],
    ['levels', 'levels'],
  ])('%s finds %s first, so that Enter takes it', (typed, kind) => {
    const best = [...STEP_SPECS.values()].reduce((a, b) => (meantScore(b, typed) > meantScore(a, typed) ? b : a));
    expect(best.do).toBe(kind);
  });

  it('say where a wish is fulfilled that is no step', () => {
    expect(elsewhere('synthetic lum')).toMatch(/average/);
    expect(elsewhere('sharpen')).toBeUndefined();
  });

  it('say where they are made for other data', () => {
    const but = (domain: 'linear' | 'stretched', forMask = false) =>
      Object.fromEntries(kindsIn(addableSteps({ planes: 1, domain }, forMask)).map((step) => [step.kind.do, step.but]));
    expect(but('stretched').gradient).toBe('needs linear data; this is stretched');
    expect(but('linear').gradient).toBeUndefined();
    expect(but('linear').levels).toMatch(/stretched/);
    // Masks are stretched by nature and never warn.
    expect(but('linear', true).levels).toBeUndefined();
  });

  it('begin with those for masks where a mask is made', () => {
    expect(addableSteps(undefined, true)[0].name).toBe('Masks');
    expect(addableSteps(undefined, false)[0].name).not.toBe('Masks');
  });

  it.each([
    ['remove stars', 'starless'],
    ['light pollution', 'gradient'],
    ['noise reduction', 'denoise'],
    ['white balance', 'calibrate'],
    ['rotate', 'place'],
    ['Wavelets', 'structures'],
    ['heal', 'mend'],
    ['histogram', 'levels'],
  ])('are found by the trade’s words: %s', (typed, kind) => {
    expect(found(typed)).toContain(kind);
  });

  it('are not found by words that none has', () => expect(found('remove clouds')).toEqual([]));
});
