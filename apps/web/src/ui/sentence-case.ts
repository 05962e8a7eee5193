/** The class that begins a label with a capital; none for symbols (k) and for names with capitals of their own (sRGB). */
export const sentenceCase = (label: string): string =>
  /^[a-z](?![a-z])|^[a-z]+[A-Z]/.test(label) ? '' : 'first-letter:uppercase';
