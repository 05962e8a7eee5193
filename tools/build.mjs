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
  packages: 'external',
  sourcemap: true,
  logLevel: 'warning',
});
if (!process.argv.includes('--server')) await viteBuild({ configFile: 'web/vite.config.ts', logLevel: 'warn' });
