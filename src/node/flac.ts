/**
 * WAVs packed without loss as FLAC (RFC 9639), by the system's `flac` where it is there. What a WAV
 * holds beside its frames, loops and pitch among it, is kept as that program keeps it: it gives back
 * the same WAV.
 */
import { execFile } from 'node:child_process';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { said, type Said } from '@/core/said';

const PLACES = Object.freeze(['/usr/bin/flac', '/usr/local/bin/flac', '/bin/flac']);

/** For one file; the longest side of a disc takes some seconds. */
const MOST_MS = 600_000;

/** Also rates that few players take; what was packed is unpacked and compared at once. */
const OPTIONS = Object.freeze(['--silent', '--lax', '--verify', '--keep-foreign-metadata']);

const run = promisify(execFile);

/** Where the program is; null where it is not. */
export const flacProgram = (): string | null => PLACES.find((path) => existsSync(path)) ?? null;

/**
 * The packed bytes of a whole WAV, which is put away in the system's folder for passing files
 * meanwhile. Where the program fails, what `refused` makes of that is thrown.
 */
export async function* flacOf(
  program: string,
  wav: AsyncIterable<Uint8Array>,
  refused: (why: Said) => Error,
): AsyncGenerator<Uint8Array> {
  const folder = await mkdtemp(join(tmpdir(), 'spindle-flac-'));
  const [from, to] = [join(folder, 'sound.wav'), join(folder, 'sound.flac')];
  try {
    await pipeline(wav, createWriteStream(from));
    await run(program, [...OPTIONS, '-o', to, from], { timeout: MOST_MS }).catch((error) => {
      throw refused(said('sound.flacFailed', { why: lastLine(error as Failed) }));
    });
    yield* createReadStream(to) as AsyncIterable<Uint8Array>;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

type Failed = Partial<Record<'stderr' | 'message', string>>;

/** The last thing that the program said; where it said nothing, what ended it. */
const lastLine = ({ stderr = '', message = '' }: Failed): string =>
  (stderr.trim() || message.trim()).split('\n').at(-1)!;
