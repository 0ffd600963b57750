/**
 * A sampler disc of 3,000 samples (some 520 MB): listed, listed with the digests of all frames, and
 * taken out whole, beside `sha256sum` and `cp` of the same bytes in the same run.
 */
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { samplerDisc } from '../demo/sampler-disc';
import { residentMB, seconds } from './whole-process';

const PARTITIONS = 6;
const VOLUMES = 5;
const SAMPLES = 100;
const FRAMES = 86_000;
const RATE = 44_100;

const volume = (partition: number, number: number) => ({
  name: `VOLUME ${number}`,
  programs: [],
  samples: Array.from({ length: SAMPLES }, (_, i) => {
    const seed = 1 + i + SAMPLES * (number + VOLUMES * partition);
    const values = new Int16Array(FRAMES).map((_value, frame) => (frame * seed * 31) & 0x7fff);
    return { name: `SAMPLE ${i}`, rateHz: RATE, rootNote: 60, cents: 0, values, loop: null };
  }),
});

const disc = (): Uint8Array =>
  samplerDisc(
    Array.from({ length: PARTITIONS }, (_, partition) =>
      Array.from({ length: VOLUMES }, (_volume, number) => volume(partition, number)),
    ),
  );

export async function benchSound(root: string) {
  const folder = mkdtempSync(join(tmpdir(), 'spindle-bench-'));
  try {
    const image = join(folder, 'disc.img');
    writeFileSync(image, disc());
    const out = join(folder, 'out');
    const copy = join(folder, 'copy.img');
    const drop = () => rmSync(out, { recursive: true, force: true });
    const spindle = (...more: string[]) => [join(root, 'bin', 'spindle'), 'sound', image, ...more];
    const timed = (...more: string[]) => seconds(process.execPath, spindle(...more), drop);
    const sha256sum = seconds('sha256sum', [image]);
    const copied = seconds('sh', ['-c', `cp ${image} ${copy} && sha256sum ${copy}`]);
    const rows = [
      { what: 'listed', s: timed(), beside: 'sha256sum', baseline: sha256sum, most: 1.5 },
      {
        what: 'with the digest of every sample',
        s: timed('--json', join(folder, 'list.json')),
        beside: 'sha256sum',
        baseline: sha256sum,
        most: 1.5,
      },
      {
        what: 'taken out whole',
        s: timed('--out', out),
        beside: 'cp and sha256sum',
        baseline: copied,
        most: 1 / 0.7,
      },
    ].map((row) => ({ ...row, ratio: row.s / row.baseline }));
    drop();
    const resident = await residentMB(process.execPath, spindle('--out', out));
    return { megabytes: statSync(image).size / 1e6, rows, resident };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
