/** `spindle contents`: the volumes and files of an image. */
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { toHex } from '@/core/digester';
import { identifyVolumes, type FoundVolume } from '@/core/identify/identify';
import type { Volume, VolumeEntry } from '@/core/volume/volume';
import { nodeDigester } from '@/node/digester';
import { extractVolume } from './extract';
import { fileSource, writeOut } from './files';
import { UsageError } from './usage';

async function digestOf(volume: Volume, entry: VolumeEntry): Promise<string> {
  const hash = nodeDigester.sha256Stream();
  for await (const bytes of volume.stream(entry)) hash.update(bytes);
  return toHex(hash.digest());
}

async function volumeJson({ volume, partition, offset, length }: FoundVolume) {
  const files = [];
  for (const entry of volume.entries) {
    if (entry.kind !== 'file') continue;
    const { path, bytes, modified, deleted, recoverable } = entry;
    files.push({ path, bytes, sha256: recoverable === 'none' ? null : await digestOf(volume, entry), modified, deleted, recoverable });
  }
  const { filesystem, label, freeBytes, problems } = volume;
  return { filesystem, partition, label, offset, length, freeBytes, files, problems };
}

export async function contentsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'string' }, extract: { type: 'string' } } });
  const [path, ...more] = positionals;
  if (!path || more.length > 0) throw new UsageError('contents takes one image');
  const source = await fileSource(path);
  try {
    const { volumes, problems } = await identifyVolumes(source);
    if (values.json) {
      const json = { volumes: await Promise.all(volumes.map(volumeJson)), problems };
      await writeOut(values.json, `${JSON.stringify(json, null, 1)}\n`);
    }
    const lines: string[] = problems.map(({ message }) => message);
    for (const found of volumes) {
      const { filesystem, label, freeBytes, entries, problems: own } = found.volume;
      lines.push(`${filesystem}${label ? ` “${label}”` : ''}: ${entries.filter(({ kind }) => kind === 'file').length} files, ${freeBytes} bytes free`);
      lines.push(...own.map(({ message }) => `  ${message}`));
      if (values.json !== '-') {
        for (const { kind, path: name, bytes, modified, deleted, recoverable } of entries) {
          if (kind === 'file') process.stdout.write(`${String(bytes).padStart(10)}  ${modified ?? '-'.padEnd(19)}  ${name}${deleted ? `  (deleted, ${recoverable})` : ''}\n`);
        }
      }
      if (values.extract) {
        const target = volumes.length > 1 ? join(values.extract, String(found.partition ?? volumes.indexOf(found) + 1)) : values.extract;
        const done = await extractVolume(found.volume, target);
        lines.push(`  ${done.length} files written to ${target}`);
      }
    }
    process.stderr.write(`${lines.join('\n')}\n`);
  } finally {
    await source.close();
  }
}
