// Compiles the kernels and writes them where the server loads them. Usage: npm run kernels, after kernels/ has changed.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = resolve(import.meta.dirname, '..');
const target = join(root, 'server', 'render', 'channels', 'inkKernels.ts');

/** @returns {Promise<Uint8Array>} the kernels as WebAssembly; the same sources give the same bytes */
export async function compileKernels() {
  const { default: asc } = await import('assemblyscript/asc');
  let wasm;
  const { error, stderr } = await asc.main(
    [
      'inks.ts',
      ...['--baseDir', join(root, 'kernels')],
      ...['--outFile', 'inks.wasm', '-O3', '--enable', 'simd', '--runtime', 'stub'],
      ...['--noAssert', '--importMemory', '--maximumMemory', '4096'],
    ],
    {
      readFile: (name, base) => {
        const path = resolve(base, name);
        return existsSync(path) ? readFileSync(path, 'utf8') : null;
      },
      writeFile: (name, contents) => {
        if (name.endsWith('.wasm')) wasm = contents;
      },
    },
  );
  if (error || !wasm) throw new Error(`The kernels do not compile:\n${stderr.toString()}`);
  return wasm;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const wasm = await compileKernels();
  const text = Buffer.from(wasm).toString('base64');
  const lines = text.match(/.{1,118}/g).map((line) => `  '${line}',`);
  writeFileSync(
    target,
    `/* Made from kernels/inks.ts by \`npm run kernels\`; a test compares the two. */\nexport const INK_KERNELS = [\n${lines.join('\n')}\n].join('');\n`,
  );
  process.stdout.write(`${String(wasm.length)} bytes of kernels\n`);
}
