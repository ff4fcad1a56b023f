// Compiles the AssemblyScript kernels to WebAssembly and wraps the bytes in a module, so that
// every process (server, worker, browser, audio worklet) imports them without reading a file.
import { mkdtemp, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const here = fileURLToPath(new URL('.', import.meta.url));
const kernels = [
  'moveWords',
  'codeWords',
  'meterBlock',
  'outlineBuckets',
  'blockSeries',
  'blockStates',
  'stretchSums',
  'leastSquares',
  'fourier',
  'halveRate',
  'slideTaps',
  'movingCopy',
  'arrivalPath',
  'gaussians',
];

const scratch = await mkdtemp(join(tmpdir(), 'kernels-'));
try {
  for (const name of kernels) {
    const plain = await compiled(name, ['simd']);
    const fused = await compiled(name, ['simd', 'relaxed-simd']);
    const builds = `{\n  plain: '${plain}',\n  fused: ${fused === plain ? 'null' : `'${fused}'`},\n}`;
    const target = join(here, `${name}.wasm.ts`);
    const text = `// Compiled from ${name}.as.ts by build.mjs.\nexport const ${name}Wasm = ${builds};\n`;
    await writeFile(`${target}.part`, text);
    await rename(`${target}.part`, target);
  }
} finally {
  await rm(scratch, { recursive: true });
}

/** @returns the module in base64 */
async function compiled(name, features) {
  const binary = join(scratch, `${name}.wasm`);
  const { error, stderr } = await asc.main([
    join(here, `${name}.as.ts`),
    '--outFile',
    binary,
    '-O3',
    '--noAssert',
    '--runtime',
    'stub',
    ...features.flatMap((feature) => ['--enable', feature]),
    '--importMemory',
    '--initialMemory',
    '1',
  ]);
  if (error) throw new Error(`${name}: ${stderr.toString()}`);
  return (await readFile(binary)).toString('base64');
}
