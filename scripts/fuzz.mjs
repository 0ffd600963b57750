// `npm run fuzz`: everything that reads bytes from outside is given hurt ones; `fuzz/main.ts` says
// how to ask for more, or for one of them again.
import { build } from 'esbuild';
import { join } from 'node:path';
import { installPackages, ROOT, run } from './lib/prepare.mjs';

await installPackages();
await build({
  absWorkingDir: ROOT,
  entryPoints: { fuzz: 'fuzz/main.ts', 'fuzz-worker': 'fuzz/worker.ts' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  outdir: join(ROOT, 'build'),
  logLevel: 'error',
});
const fuzz = join(ROOT, 'build', 'fuzz.js');
await run(process.execPath, [fuzz, ...process.argv.slice(2)], { stdio: 'inherit' });
