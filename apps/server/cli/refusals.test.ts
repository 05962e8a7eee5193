import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeFolder, given, loom, openFolder } from '../testing/command';

beforeAll(openFolder);
afterAll(closeFolder);

describe('what the command refuses', () => {
  it.each([
    ['a missing recipe', ['render', 'none.json', '--out', 'x.fits'], /There is no recipe none.json/],
    ['a missing stack', ['render', 'recipe.json', '--stack', 'Ha=Ha.fits', '--out', 'x.fits'], /no stack named "OIII"/],
    [
      'a missing file',
      ['render', 'recipe.json', '--stack', 'Ha=gone.fits', '--out', 'x.fits'],
      /There is no file gone.fits/,
    ],
    ['a strange ending', ['render', 'recipe.json', ...given, '--out', 'x.bmp'], /must end in .fits/],
    [
      'a depth that the format has not',
      ['render', 'recipe.json', ...given, '--out', 'x.jpg', '--depth', '16'],
      /jpg is written with 8 bits/,
    ],
    [
      'a folder that is not there',
      ['render', 'recipe.json', ...given, '--out', 'no/where/x.fits'],
      /cannot be written/,
    ],
    [
      'a node that is not there',
      ['render', 'recipe.json', ...given, '--node', 'Q', '--out', 'x.fits'],
      /Strand or layer “Q” not found/,
    ],
    [
      'too little memory',
      ['render', 'recipe.json', ...given, '--memory', '1', '--out', 'x.fits'],
      /needs at least \d+ MB/,
    ],
    [
      'a stack given twice',
      ['render', 'recipe.json', '--stack', 'Ha=Ha.fits', '--stack', 'Ha=Ha.fits', '--out', 'x.fits'],
      /names Ha twice/,
    ],
    ['a port that is none', ['start', '--port', '99999'], /There is no port 99999/],
    ['an unknown command', ['weev'], /[Uu]nknown command/],
    ['no output named', ['render', 'recipe.json'], /[Rr]equired option/],
  ])('%s is named in one sentence, with exit code 1', async (_, args, message) => {
    const { code, out, err } = await loom(...args);
    expect(code).toBe(1);
    expect(out).toBe('');
    expect(err).toMatch(message);
    expect(err).not.toMatch(/\n\s+at /);
  });
});
