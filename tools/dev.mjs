// Page and server that renew themselves on a change, on the same data as ./loom start: the page by Vite, the server by a new build.
import { spawn } from 'node:child_process';
import { context } from 'esbuild';
import { createServer } from 'vite';
import { SERVER_BUILD } from './server-build.mjs';

const PAGE = 4860;
const SERVER = 4861;
const address = `http://127.0.0.1:${SERVER}`;

let child;
let over = false;

/** Ends the server that runs, which stops its database as well, and starts the new one. */
async function restart() {
  const before = child;
  if (before && before.exitCode === null) {
    const ended = new Promise((resolve) => before.once('exit', resolve));
    before.kill('SIGINT');
    await ended;
  }
  if (!over)
    child = spawn(process.execPath, ['dist/server/cli.js', 'start', '--port', String(SERVER)], {
      stdio: 'inherit',
      // A reply that does not fit its schema fails its request.
      env: { ...process.env, LOOM_CHECK_REPLIES: '1' },
    });
}

let line = Promise.resolve();
const renewed = {
  name: 'renewed',
  setup: ({ onEnd }) =>
    onEnd(({ errors }) => {
      if (errors.length === 0) line = line.then(restart);
    }),
};

const server = await context({ ...SERVER_BUILD, plugins: [...SERVER_BUILD.plugins, renewed] });
await server.watch();
const page = await createServer({
  configFile: 'apps/web/vite.config.ts',
  server: {
    host: '127.0.0.1',
    port: PAGE,
    strictPort: true,
    // The server answers its own page alone; this one stands in for it.
    proxy: { '/api': { target: address, changeOrigin: true, headers: { origin: address } } },
  },
});
await page.listen();
console.error(`The page is at http://127.0.0.1:${PAGE}`);

for (const signal of ['SIGINT', 'SIGTERM']) {
  process.on(signal, async () => {
    over = true;
    await Promise.all([page.close(), server.dispose()]);
    await line;
    if (child && child.exitCode === null) {
      child.once('exit', () => process.exit(0));
      child.kill('SIGINT');
    } else process.exit(0);
  });
}
