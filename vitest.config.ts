import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['packages/**/*.test.ts', 'apps/**/*.test.ts', 'demo/**/*.test.ts', 'e2e/**/*.test.ts'],
    // Two cores: more files at once would only take turns.
    maxWorkers: 2,
    // Loading the modules again for each file would take longer than the tests of most.
    isolate: false,
    // Replies are compared with their schemas.
    env: { LOOM_CHECK_REPLIES: '1' },
    // A failure shows the whole of what was expected.
    chaiConfig: { truncateThreshold: 0 },
    // A machine may be slow; how long a test takes decides nothing.
    testTimeout: 180_000,
    hookTimeout: 180_000,
  },
});
