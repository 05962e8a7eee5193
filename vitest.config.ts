import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['packages/**/*.test.ts', 'apps/**/*.test.ts', 'demo/**/*.test.ts', 'e2e/**/*.test.ts'],
    // Two cores: more files at once would only take turns.
    maxWorkers: 2,
    // A machine may be slow; how long a test takes decides nothing.
    testTimeout: 180_000,
    hookTimeout: 180_000,
  },
});
