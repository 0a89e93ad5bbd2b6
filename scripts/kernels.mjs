// Compiles the pixel kernels (packages/kernels/assembly) to WebAssembly, as text in packages/kernels/wasm.ts: run it when they change.
import { Buffer } from 'node:buffer';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import asc from 'assemblyscript/asc';
import { root } from './setup.mjs';

/** The module as bytes. */
export async function compileKernels() {
  const files = new Map();
  const args = ['pixels.ts', '--outFile', 'pixels.wasm', '-O3', '--runtime', 'stub', '--enable', 'simd', '--baseDir'];
  const { error, stderr } = await asc.main([...args, path.join(root, 'packages/kernels/assembly')], {
    writeFile: (name, contents) => void files.set(name, contents),
  });
  const wasm = files.get('pixels.wasm');
  if (error || !wasm) throw new Error(`the kernels do not compile: ${error?.message} ${stderr.toString()}`);
  return Buffer.from(wasm);
}

if (process.argv[1] === import.meta.filename || process.argv[1]?.endsWith('kernels.mjs')) {
  const lines = (await compileKernels()).toString('base64').match(/.{1,120}/g) ?? [];
  const text = `/** Made by scripts/kernels.mjs from assembly/. */\nexport const WASM = [\n${lines.map((line) => `  '${line}',`).join('\n')}\n].join('');\n`;
  writeFileSync(path.join(root, 'packages/kernels/wasm.ts'), text);
}
