/** Reading and writing files for the commands, with errors that say what to try. */
import { said } from '@/core/said';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { lstat, mkdir, open, readFile, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { finished } from 'node:stream/promises';
import type { ByteSource } from '@/core/bits/byte-source';
import { JobError } from './usage';

const reason = (error: unknown) => (error as NodeJS.ErrnoException).code ?? String(error);

export async function readWhole(path: string): Promise<Uint8Array> {
  try {
    return await readFile(path);
  } catch (error) {
    throw new JobError(said('commands.cantBeRead', { path, why: reason(error) }), { cause: error });
  }
}

/** A file's JSON, not yet checked. */
export async function readJson(path: string): Promise<unknown> {
  const text = new TextDecoder().decode(await readWhole(path));
  try {
    return JSON.parse(text);
  } catch {
    throw new JobError(said('commands.isNoJson', { path }));
  }
}

/** A file as a source that reads only what is asked for. */
export async function fileSource(path: string): Promise<ByteSource & { close(): Promise<void> }> {
  try {
    const file = await open(path, 'r');
    const stat = await file.stat();
    if (!stat.isFile()) throw new JobError(said('commands.isNoFile', { path }));
    return {
      size: stat.size,
      async read(offset, length) {
        const wanted = Math.max(0, Math.min(length, stat.size - offset));
        const buffer = new Uint8Array(wanted);
        let done = 0;
        while (done < wanted) {
          const { bytesRead } = await file.read(buffer, done, wanted - done, offset + done);
          if (bytesRead === 0) break;
          done += bytesRead;
        }
        return buffer.subarray(0, done);
      },
      close: () => file.close(),
    };
  } catch (error) {
    if (error instanceof JobError) throw error;
    throw new JobError(said('commands.cantBeRead', { path, why: reason(error) }), { cause: error });
  }
}

/** Before long work whose outcome would find no room: what is there already is never touched. */
export async function refuseExisting(path: string): Promise<void> {
  const there = await lstat(path).catch(() => null);
  if (there) throw new JobError(said('commands.existsAlready', { path }));
}

/**
 * Writes into a new file, piece by piece; what was begun goes away again where it could not be
 * finished. Gives the bytes written.
 */
export async function writeNew(
  path: string,
  pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
): Promise<number> {
  const out = createWriteStream(path, { flags: 'wx' });
  const finishing = finished(out);
  finishing.catch(() => undefined);
  let written = 0;
  try {
    for await (const piece of pieces) {
      if (!out.write(piece)) await Promise.race([once(out, 'drain'), finishing]);
      written += piece.length;
    }
    out.end();
    await finishing;
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    out.destroy();
    if (code !== 'EEXIST') await rm(path, { force: true });
    if (code === 'EEXIST') throw new JobError(said('commands.existsAlready', { path }));
    throw code === undefined
      ? error
      : new JobError(said('commands.cantBeWritten', { path, why: code }), { cause: error });
  }
  return written;
}

/** Writes to a file, or to standard output for `-`. */
export async function writeOut(path: string, bytes: Uint8Array | string): Promise<void> {
  if (path === '-') {
    await new Promise<void>((resolve, reject) =>
      // A reader that went away has read enough.
      process.stdout.write(bytes, (error) =>
        error && (error as NodeJS.ErrnoException).code !== 'EPIPE' ? reject(error) : resolve(),
      ),
    );
    return;
  }
  try {
    await mkdir(dirname(path), { recursive: true });
    await writeFile(path, bytes);
  } catch (error) {
    throw new JobError(said('commands.cantBeWritten', { path, why: reason(error) }), {
      cause: error,
    });
  }
}

/** As every JSON of the command line is written. */
export const jsonText = (value: unknown): string => `${JSON.stringify(value, null, 1)}\n`;
