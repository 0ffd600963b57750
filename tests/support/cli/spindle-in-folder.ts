/** The built command line in a folder of its own, which is there for one test. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const SPINDLE = join(__dirname, '..', '..', '..', 'bin', 'spindle');
/** Of what a command prints. */
const MOST_BYTES = 64 << 20;

/** Makes the folder before each test of the file that asks for it, and drops it behind each. */
export function spindleInFolder() {
  let folder = '';
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'spindle-cli-'));
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));
  return {
    path: (...parts: string[]) => join(folder, ...parts),
    put(name: string, bytes: Uint8Array | string): string {
      writeFileSync(join(folder, name), bytes);
      return name;
    },
    spindle: (...args: string[]) =>
      spawnSync(process.execPath, [SPINDLE, ...args], {
        cwd: folder,
        encoding: 'utf8',
        maxBuffer: MOST_BYTES,
      }),
  };
}
