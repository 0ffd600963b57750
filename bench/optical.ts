/**
 * The check of raw CD sectors beside `sha256sum`, and packing beside `gzip -6`, of the same bytes
 * in the same run.
 */
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Random, seededRandom } from '@/core/bits/random';
import { edc, edcAt } from '@/core/optical/edc';
import { checkSector, makeMode1, RAW_BYTES } from '@/core/optical/raw-sector';
import { seconds } from './whole-process';

const SECTORS = 60_000;
const RUNS = 5;

const median = (times: number[]) => times.sort((a, b) => a - b)[times.length >> 1]!;
const inside = (work: () => void) =>
  median(
    Array.from({ length: RUNS }, () => {
      const start = performance.now();
      work();
      return (performance.now() - start) / 1000;
    }),
  );

export function benchOptical(root: string) {
  const folder = mkdtempSync(join(tmpdir(), 'spindle-bench-'));
  try {
    const random = seededRandom('optical');
    const disc = rawDisc(random);
    const raw = join(folder, 'disc.bin');
    writeFileSync(raw, disc);
    const sector = (lba: number) => disc.subarray(lba * RAW_BYTES, (lba + 1) * RAW_BYTES);
    const sha256sum = seconds('sha256sum', [raw]);
    const gzip = seconds('sh', ['-c', `gzip -6 -c ${raw} > ${raw}.ref.gz`]);
    const spindle = join(root, 'bin', 'spindle');
    const pack = seconds(process.execPath, [spindle, 'pack', raw], () =>
      rmSync(`${raw}.gz`, { force: true }),
    );
    const rows = [
      {
        what: `EDC of ${SECTORS} raw sectors`,
        seconds: inside(() => {
          for (let lba = 0; lba < SECTORS; lba++)
            if (edc(sector(lba), 0, 2064) !== edcAt(sector(lba), 2064))
              throw new Error('not the EDC');
        }),
        beside: 'sha256sum',
        baseline: sha256sum,
        most: 1,
      },
      {
        what: 'EDC, parity and reserved bytes of the same',
        seconds: inside(() => {
          for (let lba = 0; lba < SECTORS; lba++)
            if (checkSector(sector(lba), lba, 1).verdict !== 'good') throw new Error('not good');
        }),
        beside: 'sha256sum',
        baseline: sha256sum,
        most: null,
      },
      {
        what: 'packing, the whole process',
        seconds: pack,
        beside: 'gzip -6',
        baseline: gzip,
        most: 1,
      },
    ];
    return {
      rows: rows.map((row) => ({ ...row, ratio: row.seconds / row.baseline })),
      size: statSync(`${raw}.gz`).size / statSync(`${raw}.ref.gz`).size,
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function rawDisc(random: Random) {
  const disc = new Uint8Array(SECTORS * RAW_BYTES);
  const user = new Uint8Array(2048);
  for (let lba = 0; lba < SECTORS; lba++) {
    // Half of it packs well, half does not.
    for (let i = 0; i < 2048; i++) user[i] = i < 1024 ? (i * lba) & 0x3f : random.below(256);
    disc.set(makeMode1(user, lba), lba * RAW_BYTES);
  }
  return disc;
}
