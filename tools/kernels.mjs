// Compiles packages/image/kernels/simd (AssemblyScript) to WebAssembly and writes it as text, so that one file serves the page, the server and the tests.
import { writeFile } from 'node:fs/promises';
import asc from 'assemblyscript/asc';

/** @returns {Promise<string>} what packages/image/kernels/simd-bytes.ts must hold */
export async function kernelsModule() {
  const { error, binary, stderr } = await compile();
  if (error || !binary) throw new Error(`The kernels do not compile: ${error ?? ''}\n${stderr}`);
  const lines =
    Buffer.from(binary)
      .toString('hex')
      .match(/.{1,300}/g) ?? [];
  return `/** WebAssembly of \`packages/image/kernels/simd\`, in hexadecimal; written by tools/kernels.mjs. */\nexport const SIMD_HEX = \`\n${lines.join('\n')}\n\`;\n`;
}

async function compile() {
  const flags = [
    'packages/image/kernels/simd/index.ts',
    '--outFile',
    'simd.wasm',
    '--runtime',
    'stub',
    '--enable',
    'simd',
    '--optimizeLevel',
    '3',
    '--noAssert',
    '--use',
    'abort=',
  ];
  let binary;
  const { error, stderr } = await asc.main(flags, {
    writeFile: (_, contents) => {
      binary = contents;
    },
  });
  return { error, binary, stderr: stderr.toString() };
}

if (import.meta.filename === process.argv[1])
  await writeFile('packages/image/kernels/simd-bytes.ts', await kernelsModule());
