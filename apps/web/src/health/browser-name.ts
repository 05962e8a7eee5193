import bowser from 'bowser';

/** A browser and its system in two words, from what it says of itself. */
export function browserName(agent: string): string {
  if (agent === '') return 'A program';
  const { browser, os } = bowser.parse(agent);
  if (!browser.name) return 'A program';
  return os.name ? `${browser.name} on ${os.name}` : browser.name;
}
