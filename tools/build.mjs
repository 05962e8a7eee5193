// Builds the server and the command into dist/server, and the interface into dist/web.
import { rm } from 'node:fs/promises';
import { build } from 'esbuild';
import { build as viteBuild } from 'vite';

await rm('dist/server', { recursive: true, force: true });
await build({
  entryPoints: { cli: 'server/cli/main.ts', worker: 'server/render/worker.ts' },
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
});
if (!process.argv.includes('--server')) await viteBuild({ configFile: 'web/vite.config.ts', logLevel: 'warn' });
