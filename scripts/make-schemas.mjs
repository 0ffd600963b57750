// Builds and runs make-schemas.ts.
import { join } from 'node:path';
import { build } from 'esbuild';
import { ROOT } from './lib/prepare.mjs';

const outfile = join(ROOT, 'build', 'make-schemas.js');
await build({
  absWorkingDir: ROOT,
  entryPoints: ['scripts/make-schemas.ts'],
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  outfile,
  logLevel: 'error',
});
await import(outfile);
