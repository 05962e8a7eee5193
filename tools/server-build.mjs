import { readFile } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';

/** `import text from './file?raw'` takes a file's text into the bundle, as the page's bundler does. */
export const RAW = {
  name: 'raw',
  setup(build) {
    build.onResolve({ filter: /\?raw$/ }, ({ path, importer }) => ({
      path: resolve(dirname(importer), path.slice(0, -4)),
      namespace: 'raw',
    }));
    build.onLoad({ filter: /.*/, namespace: 'raw' }, async ({ path }) => ({
      contents: await readFile(path, 'utf8'),
      loader: 'text',
      watchFiles: [path],
    }));
  },
};

/** How the server, its worker and the command are bundled into dist/server. */
export const SERVER_BUILD = {
  entryPoints: {
    cli: 'apps/server/cli/main.ts',
    worker: 'apps/server/workers/worker.ts',
    bench: 'bench/main.ts',
    send: 'bench/send.ts',
    shots: 'e2e/take-shots.ts',
  },
  outdir: 'dist/server',
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  // Pure JavaScript is bundled, so that a command reads a few files and not hundreds; what is native or looks for its own files is not.
  external: [
    '@zxcvbn-ts/core',
    '@zxcvbn-ts/language-common',
    'sharp',
    'mysql2',
    'typeorm',
    'piscina',
    'pino',
    'puppeteer-core',
    'assemblyscript',
    'esbuild',
    'vite',
  ],
  banner: {
    js: "import { createRequire as bundledRequire } from 'node:module'; const require = bundledRequire(import.meta.url);",
  },
  plugins: [RAW],
  sourcemap: true,
  logLevel: 'warning',
};
