import { expect, it } from 'vitest';
import { browserName } from './browser-name';

it('is told from what a browser says of itself; what says nothing is a program', () => {
  const agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0';
  expect(browserName(agent)).toBe('Firefox on Linux');
  expect(browserName('')).toBe('A program');
  expect(browserName('a command of one’s own')).toBe('A program');
});
