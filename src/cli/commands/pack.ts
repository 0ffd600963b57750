/**
 * `spindle pack` and `spindle unpack`: images packed without loss so that they can be read where
 * they lie.
 */
import { said } from '@/core/said';
import { parseArgs } from 'node:util';
import { grouped } from '@/core/text/grouped';
import { toHex } from '@/core/digester';
import { packSource, tryPacking } from '@/core/packing/pack-source';
import { PackedDamage, packedSource, readIndex } from '@/core/packing/packed';
import { nodeDeflater, nodeInflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { fileSource, writeNew } from '../files';
import { filesOf, shown } from '../paths';
import { JobError, tellLine, UsageError } from '../usage';

const PIECE = 1 << 20;

export async function packCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' }, try: { type: 'boolean' } },
  });
  if (positionals.length === 0) throw new UsageError(said('ofPacking.packTakes'));
  if (values.try) return trial(await filesOf(positionals));
  const [path, ...more] = positionals;
  if (more.length > 0) throw new UsageError(said('ofPacking.packTakesOne'));
  const source = await fileSource(path!);
  try {
    const target = values.out ?? `${path}.gz`;
    const written = await writeNew(target, packSource(source, nodeDeflater, nodeDigester));
    tellLine(
      said('ofPacking.packedInto', {
        bytes: grouped(source.size),
        packed: grouped(written),
        percent: source.size === 0 ? 100 : Math.round((100 * written) / source.size),
        path: shown(target),
      }),
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
  tellLine(
    said('ofPacking.wouldSave', {
      files: paths.length,
      bytes: grouped(bytes),
      packed: grouped(Math.round(packed)),
      saved: grouped(Math.max(0, Math.round(bytes - packed))),
      seconds: Math.ceil(seconds),
    }),
  );
}

export async function unpackCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' } },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0) throw new UsageError(said('ofPacking.unpackTakes'));
  const source = await fileSource(path);
  try {
    const index = await readIndex(source);
    if (!index) throw new JobError(said('ofPacking.hasNoIndex', { path: shown(path) }));
    const target = values.out ?? path.replace(/\.gz$/i, '');
    if (target === path) throw new UsageError(said('ofPacking.unpackNeeds'));
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
          throw new JobError(said('ofPacking.isNotWhatWasPacked', { path: shown(path) }));
      })(),
    );
    tellLine(
      said('ofPacking.bytesIn', {
        bytes: grouped(written),
        path: shown(target),
        sha256: index.sha256,
      }),
    );
  } catch (error) {
    if (error instanceof PackedDamage)
      throw new JobError(said('ofPacking.gunzipGives', { what: error.message }), { cause: error });
    throw error;
  } finally {
    await source.close();
  }
}
