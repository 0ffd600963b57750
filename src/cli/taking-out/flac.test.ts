/** Sounds packed by another program: what is told where it fails, and that nothing is left behind. */
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import type { Said } from '@/core/said';
import { flacOf } from '@/node/flac';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'spindle-program-'))));
afterEach(() => rmSync(folder, { recursive: true }));

class Refused extends Error {
  constructor(readonly why: Said) {
    super(why.code);
  }
}

async function packedBy(script: string): Promise<unknown> {
  const program = join(folder, 'flac');
  writeFileSync(program, `#!/bin/sh\n${script}\n`);
  chmodSync(program, 0o755);
  async function* wav() {
    yield Uint8Array.of(1, 2, 3);
  }
  const pieces: Uint8Array[] = [];
  for await (const piece of flacOf(program, wav(), (why) => new Refused(why))) pieces.push(piece);
  return Buffer.concat(pieces).toString();
}

test('what a program that fails said last is told', async () => {
  const failing = packedBy('echo first >&2; echo FALSE NEWS >&2; exit 3');
  await expect(failing).rejects.toMatchObject({
    why: { code: 'sound.flacFailed', with: { why: 'FALSE NEWS' } },
  });
  await expect(packedBy('exit 1')).rejects.toBeInstanceOf(Refused);
});

test('its output is given, and what passed through is gone', async () => {
  const where = join(folder, 'where');
  // The last two are where to and where from.
  const last = `while [ $# -gt 2 ]; do shift; done; echo "$2" > ${where}`;
  const passed = () => existsSync(dirname(readFileSync(where, 'utf8').trim()));
  expect(await packedBy(`${last}; cat "$2" > "$1"; printf x >> "$1"`)).toBe('\u0001\u0002\u0003x');
  expect(passed()).toBe(false);
  await expect(packedBy(`${last}; exit 1`)).rejects.toBeInstanceOf(Refused);
  expect(passed()).toBe(false);
});
