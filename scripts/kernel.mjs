// Compiles src/core/reports/kernel.as into kernel_code.ts, which is committed; a test holds the two together.
import { readFileSync, writeFileSync } from 'node:fs';
import asc from 'assemblyscript/asc';

const SOURCE = new URL('../src/core/reports/kernel.as', import.meta.url);
const CODE = new URL('../src/core/reports/kernel_code.ts', import.meta.url);

/** The text of kernel_code.ts. @throws with what the compiler says */
export async function compiledKernel() {
  const files = new Map([['kernel.ts', readFileSync(SOURCE, 'utf8')]]);
  let binary = new Uint8Array();
  const { error, stderr } = await asc.main(
    ['kernel.ts', '--outFile', 'kernel.wasm', '-O3', '--runtime', 'stub', '--importMemory', '--noAssert'],
    {
      readFile: (name) => files.get(name) ?? null,
      writeFile: (name, contents) => void (name === 'kernel.wasm' && (binary = contents)),
      listFiles: () => [],
    },
  );
  if (error) throw new Error(`${error.message}\n${stderr.toString()}`);
  const base64 = Buffer.from(binary).toString('base64');
  return `/** kernel.as, compiled by scripts/kernel.mjs. */\nexport const KERNEL_CODE =\n  '${base64}';\n`;
}

if (import.meta.url === `file://${process.argv[1]}`) writeFileSync(CODE, await compiledKernel());
