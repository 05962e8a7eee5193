/** How the server, its worker and the command are bundled into dist/server. */
export const SERVER_BUILD = {
  entryPoints: {
    cli: 'server/cli/main.ts',
    worker: 'server/render/worker.ts',
    bench: 'bench/main.ts',
    shots: 'e2e/take-shots.ts',
  },
  outdir: 'dist/server',
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  // Pure JavaScript is bundled, so that a command reads a few files and not hundreds; what is native or looks for its own files is not.
  external: ['sharp', 'mysql2', 'typeorm', 'piscina', 'pino', 'puppeteer-core', 'assemblyscript', 'esbuild', 'vite'],
  banner: {
    js: "import { createRequire as bundledRequire } from 'node:module'; const require = bundledRequire(import.meta.url);",
  },
  sourcemap: true,
  logLevel: 'warning',
};
