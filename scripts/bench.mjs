// `npm run bench`: figures beside a baseline of the same run; `-- pages` measures a running
// application in a browser, `-- search` a search over 100,000 files, `-- large` a disc of 4.7 GB,
// `-- keeping` a parcel and a second store of one, each in one of its own.
import { bundleIfStale, installPackages, ROOT, run } from './lib/prepare.mjs';
import { build } from 'esbuild';
import { join } from 'node:path';

await installPackages();
const outfile = join(ROOT, 'build', 'bench.js');
await bundleIfStale();
await build({
  absWorkingDir: ROOT,
  entryPoints: ['bench/main.ts'],
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  outfile,
  logLevel: 'error',
});
if (process.argv.includes('pages')) await import('./bench-pages.mjs');
else if (process.argv.includes('search')) await import('./bench-search.mjs');
else if (process.argv.includes('growth')) await import('./bench-growth.mjs');
else if (process.argv.includes('large')) await import('./bench-large.mjs');
else if (process.argv.includes('keeping')) await import('./bench-keeping.mjs');
else await run(process.execPath, [outfile, ...process.argv.slice(2)], { stdio: 'inherit' });
