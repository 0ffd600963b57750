/** `spindle disc`: the tracks of a raw disc image, and which of its sectors are good, mendable and lost. */
import { createWriteStream } from 'node:fs';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { examineDisc, isScrambled, sectorsOf, tracksOf, userSource } from '@/core/optical/disc';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { scramble } from '@/core/optical/scramble';
import { identifyVolumes } from '@/core/identify/identify';
import { nodeDigester } from '@/node/digester';
import { volumeJson } from './contents';
import { fileSource, writeOut } from './files';
import { openDisc, type OpenDisc } from './open-disc';
import { shown } from './paths';
import { JobError, UsageError } from './usage';

const isData = (type: string) => type === 'MODE1/2352' || type === 'MODE2/2352';

/** Writes the image once more with every mended sector in its place; lost ones stay as they are. */
async function writeRepaired({ sheet, sources }: OpenDisc, flags: Awaited<ReturnType<typeof fileSource>> | null, path: string): Promise<number> {
  if (sources.length !== 1) throw new JobError('--repair writes one image; this disc is in several files.');
  const [source] = sources;
  const { tracks } = tracksOf(sheet, sources.map(({ size }) => size));
  const out = createWriteStream(path, { flags: 'wx' });
  const finishing = finished(out);
  const write = async (bytes: Uint8Array) => { if (!out.write(bytes)) await Promise.race([once(out, 'drain'), finishing]); };
  let at = 0;
  let mended = 0;
  const copyUpTo = async (end: number) => {
    for (; at < end; ) {
      const part = await source!.read(at, Math.min(1 << 20, end - at));
      if (part.length === 0) return;
      await write(part);
      at += part.length;
    }
  };
  for (const track of tracks.filter(({ type }) => isData(type))) {
    const scrambled = await isScrambled(source!, track);
    await copyUpTo(track.fileSector * RAW_BYTES);
    for await (const { sector } of sectorsOf(source!, track, scrambled, flags)) {
      const bytes = sector.verdict === 'repairable' ? sector.bytes.slice() : await source!.read(at, RAW_BYTES);
      if (sector.verdict === 'repairable') {
        mended++;
        if (scrambled) scramble(bytes);
      }
      await write(bytes);
      at += RAW_BYTES;
    }
  }
  await copyUpTo(source!.size);
  out.end();
  await finishing;
  return mended;
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
    const found = first ? await identifyVolumes(userSource(disc.sources[first.file]!, first, await isScrambled(disc.sources[first.file]!, first), flags)) : null;
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
    if (values.repair) lines.push(`${await writeRepaired(disc, flags, values.repair)} mended sectors written into ${values.repair}`);
    process.stderr.write(`${lines.join('\n')}\n`);
  } finally {
    await flags?.close();
    await disc.close();
  }
}
