import { describe, expect, it } from 'vitest';
import { byForm, bytesOf, filesOf, scaled } from './files';
import { settingsSchema } from './settings';

const settings = settingsSchema.parse({
  formats: ['jpg', 'fits', 'png'],
  quality: 80,
  profile: 'p3',
  credits: ' ',
  called: '{recipe}',
});
const size = { width: 100, height: 50 };

describe('the files that one press asks for', () => {
  it('are one a form, each with what it can hold', () => {
    const crop = { x: 1, y: 2, width: 30, height: 20 };
    const files = filesOf(settings, { title: 'T', caption: '' }, { crop, widths: [15], stretched: true }, []);
    expect(files).toEqual([
      { format: 'fits', depth: 32, crop, width: 15, title: 'T', called: '{recipe}' },
      { format: 'png', depth: 16, crop, width: 15, profile: 'p3', title: 'T', called: '{recipe}' },
      { format: 'jpg', depth: 8, crop, width: 15, quality: 80, profile: 'p3', title: 'T', called: '{recipe}' },
    ]);
  });

  it('leave out who and where in FITS alone, those of strands among them', () => {
    const asked = { ...settings, impersonal: true };
    const files = filesOf(asked, { title: '', caption: '' }, { widths: [undefined], stretched: true }, [
      { node: 'Ha', linear: true },
      { node: 'glow', linear: false },
    ]);
    expect(files.map(({ format, impersonal }) => [format, impersonal])).toEqual([
      ['fits', true],
      ['png', undefined],
      ['jpg', undefined],
      ['fits', true],
      ['tif', undefined],
    ]);
  });

  it('are one a size, and those in further sizes say theirs in their names', () => {
    const of = (called: string) =>
      filesOf(
        { ...settings, formats: ['tif', 'fits'], called },
        { title: '', caption: '' },
        { widths: [undefined, 40, 20], stretched: true },
        [],
      ).map(({ format, width, called: own }) => [format, width, own]);
    expect(of('{recipe}')).toEqual([
      ['fits', undefined, '{recipe}'],
      ['fits', 40, '{recipe} {width}'],
      ['fits', 20, '{recipe} {width}'],
      ['tif', undefined, '{recipe}'],
      ['tif', 40, '{recipe} {width}'],
      ['tif', 20, '{recipe} {width}'],
    ]);
    expect(of('')[1]).toEqual(['fits', 40, '{recipe}-{what}-r{state} {width}']);
    expect(of('{width} wide')[2]).toEqual(['fits', 20, '{width} wide']);
  });

  it('name no profile for a linear picture but the linear one', () => {
    const of = (profile: 'p3' | 'linear') =>
      filesOf(
        { ...settings, formats: ['png'], profile },
        { title: '', caption: '' },
        { widths: [undefined], stretched: false },
        [],
      )[0].profile;
    expect(of('p3')).toBeUndefined();
    expect(of('linear')).toBe('linear');
  });

  it('are strands and masks besides, whole, linear ones as FITS', () => {
    const beside = [
      { node: 'Ha', linear: true },
      { node: 'masks[0]', linear: false },
    ];
    expect(
      filesOf(
        { ...settings, formats: [] },
        { title: 'T', caption: 'C' },
        { widths: [undefined, 20], stretched: true },
        beside,
      ),
    ).toEqual([
      { format: 'fits', depth: 32, node: 'Ha', called: '{recipe}' },
      { format: 'tif', depth: 16, node: 'masks[0]', called: '{recipe}' },
    ]);
  });
});

describe('the size of a file', () => {
  it('is known of plain ones, and told about of packed ones', () => {
    expect(bytesOf('tif', settings, size, 3, undefined)).toEqual({ bytes: 30_000, about: false });
    expect(bytesOf('jpg', settings, size, 3, undefined)).toBeUndefined();
    expect(bytesOf('jpg', settings, size, 3, { jpg: 700, png: 9000 })).toEqual({ bytes: 700, about: true });
    expect(bytesOf('png', settings, size, 3, { jpg: 700, png: 9000 })?.bytes).toBe(24_000);
  });

  it('goes by the pixels for a further size', () => {
    const about = { jpg: 800, png: 4000 };
    expect(scaled(about, { width: 50, height: 25 }, size)).toEqual({ jpg: 200, png: 1000 });
    expect(scaled(undefined, size, size)).toBeUndefined();
  });
});

it('files of one form stand together, whatever their size', () => {
  const files = filesOf(
    { ...settings, formats: ['tif', 'jpg'] },
    { title: '', caption: '' },
    { widths: [undefined, 9], stretched: true },
    [{ node: 'Ha', linear: false }],
  );
  expect(byForm(files).map((form) => form.map(({ format, node, width }) => node ?? `${format} ${width}`))).toEqual([
    ['tif undefined', 'tif 9'],
    ['jpg undefined', 'jpg 9'],
    ['Ha'],
  ]);
});
