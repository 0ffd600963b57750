/**
 * `spindle pack` and `spindle unpack`: images packed without loss so that they can be read where
 * they lie.
 */
import { parseArgs } from 'node:util';
import { grouped } from '@/core/text/grouped';
import { toHex } from '@/core/digester';
import { packSource, tryPacking } from '@/core/packing/pack-source';
import { PackedDamage, packedSource, readIndex } from '@/core/packing/packed';
import { nodeDeflater, nodeInflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { fileSource, writeNew } from '../files';
import { filesOf, shown } from '../paths';
import { JobError, UsageError } from '../usage';

const PIECE = 1 << 20;

export async function packCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' }, try: { type: 'boolean' } },
  });
  if (positionals.length === 0) throw new UsageError('pack takes an image');
  if (values.try) return trial(await filesOf(positionals));
  const [path, ...more] = positionals;
  if (more.length > 0) throw new UsageError('pack takes one image, or many with --try');
  const source = await fileSource(path!);
  try {
    const target = values.out ?? `${path}.gz`;
    const written = await writeNew(target, packSource(source, nodeDeflater, nodeDigester));
    process.stderr.write(
      `${grouped(source.size)} bytes packed into ${grouped(written)} ` +
        `(${source.size === 0 ? 100 : Math.round((100 * written) / source.size)} %) in ` +
        `${shown(target)}\n`,
    );
  } finally {
    await source.close();
  }
}

/** What packing would save, and how long it would take, before it is done. */
async function trial(paths: readonly string[]): Promise<void> {
  let [bytes, packed, sampled] = [0, 0, 0];
  const started = performance.now();
  for (const path of paths) {
    const source = await fileSource(path);
    try {
      const result = await tryPacking(source, nodeDeflater);
      bytes += result.bytes;
      sampled += result.sampled;
      packed += result.bytes * result.packedShare;
      process.stdout.write(
        `${String(Math.round(100 * result.packedShare)).padStart(4)} %  ${shown(path)}\n`,
      );
    } finally {
      await source.close();
    }
  }
  const seconds = sampled === 0 ? 0 : ((performance.now() - started) / 1000) * (bytes / sampled);
  process.stderr.write(
    `${paths.length} ${paths.length === 1 ? 'file' : 'files'}, ${grouped(bytes)} ` +
      `bytes: about ${grouped(Math.round(packed))} packed, ` +
      `${grouped(Math.max(0, Math.round(bytes - packed)))} saved, in about ` +
      `${seconds < 1 ? 'a second' : `${Math.ceil(seconds)} s`} or less\n`,
  );
}

export async function unpackCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' } },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0) throw new UsageError('unpack takes one packed image');
  const source = await fileSource(path);
  try {
    const index = await readIndex(source);
    if (!index)
      throw new JobError(
        `${shown(path)} has no index of ours that holds together. If it is a gzip file, ` +
          'gunzip unpacks it.',
      );
    const target = values.out ?? path.replace(/\.gz$/i, '');
    if (target === path)
      throw new UsageError('unpack needs --out FILE where the name does not end in .gz');
    const content = packedSource(source, index, nodeInflater);
    const hash = nodeDigester.sha256Stream();
    const written = await writeNew(
      target,
      (async function* () {
        for (let at = 0; at < content.size; at += PIECE) {
          const piece = await content.read(at, PIECE);
          hash.update(piece);
          yield piece;
        }
        if (toHex(hash.digest()) !== index.sha256)
          throw new JobError(
            `What ${shown(path)} unpacks to is not what was packed: its digest differs. ` +
              'Nothing was written.',
          );
      })(),
    );
    process.stderr.write(
      `${grouped(written)} bytes in ${shown(target)}; SHA-256 ${index.sha256}\n`,
    );
  } catch (error) {
    if (error instanceof PackedDamage)
      throw new JobError(
        `${error.message} Nothing was written; gunzip gives what stands before it.`,
        { cause: error },
      );
    throw error;
  } finally {
    await source.close();
  }
}
