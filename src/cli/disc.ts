/** `spindle disc`: the tracks of a raw disc image, and which of its sectors are good, mendable and lost. */
import { parseArgs } from 'node:util';
import type { ByteSource } from '@/core/bits/byte-source';
import { examineDisc, isRaw, sectorsOf, userSource, type DiscReport } from '@/core/optical/disc';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { scramble } from '@/core/optical/scramble';
import { identifyVolumes } from '@/core/identify/identify';
import { nodeDigester } from '@/node/digester';
import { volumeJson } from './contents';
import { fileSource, writeNew, writeOut } from './files';
import { openDisc } from './open-disc';
import { shown } from './paths';
import { JobError, UsageError } from './usage';

/** The image once more with every mended sector in its place; lost ones stay as they are. */
async function* repaired(source: ByteSource, tracks: DiscReport['tracks'], flags: ByteSource | null): AsyncGenerator<Uint8Array> {
  let at = 0;
  async function* upTo(end: number) {
    while (at < end) {
      const part = await source.read(at, Math.min(1 << 20, end - at));
      if (part.length === 0) return;
      yield part;
      at += part.length;
    }
  }
  for (const track of tracks.filter(({ type }) => isRaw(type))) {
    for await (const { lba, sector } of sectorsOf(source, track, track.scrambled, flags)) {
      const place = (track.fileSector + lba - track.startLba) * RAW_BYTES;
      // A sheet may let tracks lie on one another.
      if (sector.verdict !== 'repairable' || place < at) continue;
      yield* upTo(place);
      const bytes = sector.bytes.slice();
      if (track.scrambled) scramble(bytes);
      yield bytes;
      at += RAW_BYTES;
    }
  }
  yield* upTo(source.size);
}

export async function discCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'string' }, flags: { type: 'string' }, repair: { type: 'string' } } });
  const [path, ...more] = positionals;
  if (!path || more.length > 0) throw new UsageError('disc takes one image, or its cue sheet');
  const disc = await openDisc(path);
  if (!disc) throw new JobError(`${shown(path)} is neither a cue sheet nor an image of raw sectors of ${RAW_BYTES} bytes. For an image of 2,048-byte sectors there is "spindle contents".`);
  const flags = values.flags ? await fileSource(values.flags) : null;
  try {
    const { tracks, scrambled, misaddressed, ...report } = await examineDisc({ ...disc, flags }, nodeDigester);
    const first = tracks.find(({ type }) => type !== 'AUDIO');
    const found = first ? await identifyVolumes(userSource(disc.sources[first.file]!, first, first.scrambled, flags)) : null;
    const volume = found?.volumes[0] ? await volumeJson({ ...found.volumes[0], inside: null }) : null;
    if (values.json) {
      const json = {
        ...report, tracks: tracks.map(({ number, type, startLba, sectors, fileSector, pregapSectors, pcmSha256 }) => ({ number, type, startLba, sectors, fileSector, pregapSectors, ...(pcmSha256 !== undefined && { pcmSha256 }) })),
        ...(scrambled && { scrambled }), ...(misaddressed.length > 0 && { misaddressed }), ...(volume && { volume }),
      };
      await writeOut(values.json, `${JSON.stringify(json, null, 1)}\n`);
    }
    if (values.json !== '-') for (const { number, type, startLba, sectors } of tracks) process.stdout.write(`${String(number).padStart(2)}  ${type.padEnd(10)}  from ${startLba}, ${sectors} sectors\n`);
    const lines = [`${report.good} good, ${report.repairable.length} mendable, ${report.unrepairable.length} lost`, ...report.problems.map(({ message }) => shown(message))];
    if (report.unrepairable.length > 0) lines.push(`lost: ${report.unrepairable.slice(0, 20).join(', ')}${report.unrepairable.length > 20 ? ' …' : ''}`);
    if (values.repair) {
      if (disc.sources.length !== 1) throw new JobError('--repair writes one image; this disc is in several files.');
      await writeNew(values.repair, repaired(disc.sources[0]!, tracks, flags));
      lines.push(`written with ${report.repairable.length} mended sectors into ${shown(values.repair)}`);
    }
    process.stderr.write(`${lines.join('\n')}\n`);
  } finally {
    await flags?.close();
    await disc.close();
  }
}
