import { fileURLToPath } from 'node:url';
import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { reactCompiler } from '../../tools/react-compiler.mjs';

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [reactCompiler(), react(), tailwind()],
  worker: { format: 'es' },
  build: {
    outDir: fileURLToPath(new URL('../../dist/web', import.meta.url)),
    emptyOutDir: true,
    // Fonts as files: the content policy takes none that stand in the text.
    assetsInlineLimit: 0,
    // Everything is served from this machine: size on the wire does not matter, names for stack traces do.
    sourcemap: true,
    chunkSizeWarningLimit: 4000,
    // What takes time is the compiler, which is wanted.
    rolldownOptions: { checks: { bundlerTimings: false } },
  },
});
