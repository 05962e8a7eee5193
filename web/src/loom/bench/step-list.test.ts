import { describe, expect, it } from 'vitest';
import { STEP_KINDS } from '../../../../core/steps/index';
import { isMeant, offeredSteps } from './step-list';

const kindsIn = (groups: ReturnType<typeof offeredSteps>) => groups.flatMap(({ steps }) => steps);
const found = (typed: string) => [...STEP_KINDS.values()].filter((kind) => isMeant(kind, typed)).map((kind) => kind.do);

describe('steps that can be added', () => {
  it('are all offered somewhere, each once', () => {
    const mono = kindsIn(offeredSteps({ planes: 1, domain: 'linear' }, false)).map(({ kind }) => kind.do);
    const colour = kindsIn(offeredSteps({ planes: 3, domain: 'linear' }, false)).map(({ kind }) => kind.do);
    expect(new Set(mono).size).toBe(mono.length);
    expect(new Set([...mono, ...colour])).toEqual(new Set(STEP_KINDS.keys()));
  });

  it('are none that cannot stand there', () => {
    const names = (planes: 1 | 3) =>
      kindsIn(offeredSteps({ planes, domain: 'linear' }, false)).map(({ kind }) => kind.do);
    expect(names(3)).not.toContain('continuum');
    expect(names(3)).toContain('calibrate');
    expect(names(1)).not.toContain('calibrate');
    expect(names(1)).toContain('tint');
  });

  it('say where they are made for other data', () => {
    const but = (domain: 'linear' | 'stretched', forMask = false) =>
      Object.fromEntries(kindsIn(offeredSteps({ planes: 1, domain }, forMask)).map((step) => [step.kind.do, step.but]));
    expect(but('stretched').gradient).toBe('made for linear data, and this is stretched');
    expect(but('linear').gradient).toBeUndefined();
    expect(but('linear').levels).toMatch(/stretched/);
    // Masks are stretched by nature and never warn.
    expect(but('linear', true).levels).toBeUndefined();
  });

  it('begin with those for masks where a mask is made', () => {
    expect(offeredSteps(undefined, true)[0].name).toBe('for masks');
    expect(offeredSteps(undefined, false)[0].name).not.toBe('for masks');
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
