// Builds the server and the command into dist/server, and the interface into dist/web.
import { rm } from 'node:fs/promises';
import { build } from 'esbuild';
import { build as viteBuild } from 'vite';
import { SERVER_BUILD } from './server-build.mjs';

await rm('dist/server', { recursive: true, force: true });
await build(SERVER_BUILD);
if (!process.argv.includes('--server')) await viteBuild({ configFile: 'apps/web/vite.config.ts', logLevel: 'warn' });
