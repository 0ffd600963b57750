/**
 * The command line on real files: a 32 MiB FAT16 volume, and five hundred floppy images, each
 * beside sha256sum of the same files.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { fat16Image } from './fat16-image';
import { seconds } from './whole-process';

const IMAGES = 500;

export function benchIndex(root: string) {
  const folder = mkdtempSync(join(tmpdir(), 'spindle-bench-'));
  try {
    const spindle = join(root, 'bin', 'spindle');
    const big = join(folder, 'fat16.img');
    writeFileSync(big, fat16Image());
    const box = join(folder, 'box');
    fillBox(root, box);
    const rows = [
      {
        what: 'contents of a 32 MiB FAT16 image, every file hashed',
        spindle: seconds(process.execPath, [
          spindle,
          'contents',
          big,
          '--json',
          join(folder, 'out.json'),
        ]),
        sha256sum: seconds('sha256sum', [big]),
        most: 2,
      },
      {
        what: `index of ${IMAGES} floppy images`,
        spindle: seconds(process.execPath, [
          spindle,
          'index',
          box,
          '--csv',
          join(folder, 'out.csv'),
        ]),
        sha256sum: seconds(
          'sha256sum',
          readdirSync(box).map((name) => join(box, name)),
        ),
        most: 4,
      },
    ];
    return rows.map((row) => ({ ...row, ratio: row.spindle / row.sha256sum }));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function fillBox(root: string, box: string) {
  const vectors = join(root, 'tests', 'vectors', 'volumes');
  const images = readdirSync(vectors)
    .filter((name) =>
      /^(d64|d81|prodos|catalogue16|granule|cpm|fat12)-.*\.(d64|d81|po|do|img)\.gz$/.test(name),
    )
    .map((name) => gunzipSync(readFileSync(join(vectors, name))));
  spawnSync('mkdir', [box]);
  for (let i = 0; i < IMAGES; i++)
    writeFileSync(join(box, `image-${String(i).padStart(3, '0')}.bin`), images[i % images.length]!);
}
