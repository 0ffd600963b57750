// Fails where a test file belongs to no suite of jest.config.mjs, and so would never run.
import { execFileSync } from 'node:child_process';
import { relative } from 'node:path';
import { ROOT } from './lib/prepare.mjs';

const run = (command, args) => execFileSync(command, args, { cwd: ROOT, encoding: 'utf8' });
const lines = (text) => text.split('\n').filter(Boolean);

const written = lines(
  run('git', ['ls-files', '-co', '--exclude-standard', '*.test.ts', '*.test.tsx']),
);
const runs = new Set(
  lines(run(process.execPath, ['node_modules/jest/bin/jest.js', '--listTests'])).map((path) =>
    relative(ROOT, path),
  ),
);
const never = written.filter((path) => !runs.has(path));
for (const path of never) console.error(`${path} is in no suite and never runs`);
process.exit(never.length > 0 ? 1 : 0);
