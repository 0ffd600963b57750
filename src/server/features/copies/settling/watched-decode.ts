/**
 * A decode that may take minutes, followed: how far it has come is told, and a person who will not
 * wait has what is left of it read by single turns.
 */
import { setTimeout as sleep } from 'node:timers/promises';
import type { ContainerHeader } from '@/core/flux/container';
import type { TrackReading } from '@/core/flux/reading';
import { decodeCapture, trackName, type CaptureDecode } from '@/core/reading/decode/decode-capture';
import type { SettlingProgress } from '@/server/states';

/** Whom a settling tells how far it is, and who may hurry it. */
export interface SettlingWatch {
  /** Nothing is to be settled any more. */
  signal: AbortSignal;
  tell: (progress: SettlingProgress) => Promise<void>;
  isHurried: () => Promise<boolean>;
}

/** Nobody waits for it. */
export const UNWATCHED: SettlingWatch = Object.freeze({
  signal: new AbortController().signal,
  tell: async () => undefined,
  isHurried: async () => false,
});

const LOOK_MS = 500;

type Options = Omit<Parameters<typeof decodeCapture>[2], 'effort' | 'watch'>;

/** `leftOut`: tracks whose turns were not all weighed together, since a person asked for that. */
export async function watchedDecode(
  header: Partial<ContainerHeader> | null,
  readings: readonly TrackReading[],
  options: Options,
  watch: SettlingWatch,
): Promise<{ decoded: CaptureDecode; leftOut: number }> {
  const broken = new AbortController();
  const hurry = new AbortController();
  const over = new AbortController();
  const leftOut = new Set<string>();
  let latest: SettlingProgress | null = null;
  const following = follow(watch, () => latest, { broken, hurry, over: over.signal });
  try {
    const decoded = await decodeCapture(header, readings, {
      ...options,
      watch: {
        signal: AbortSignal.any([watch.signal, broken.signal]),
        hurry: hurry.signal,
        told: (done, of) => (latest = { done, of }),
        leftOut: (tracks) => tracks.forEach((track) => leftOut.add(trackName(track))),
      },
    });
    return { decoded, leftOut: leftOut.size };
  } finally {
    over.abort();
    await following;
  }
}

interface Followed {
  /** What fails in following breaks the decode off. */
  broken: AbortController;
  hurry: AbortController;
  over: AbortSignal;
}

/** Looks now and then until it is over. */
async function follow(
  { tell, isHurried }: SettlingWatch,
  latest: () => SettlingProgress | null,
  { broken, hurry, over }: Followed,
): Promise<void> {
  let told: SettlingProgress | null = null;
  try {
    while (!over.aborted) {
      if (!hurry.signal.aborted && (await isHurried())) hurry.abort();
      const now = latest();
      if (now && now !== told) await tell(now);
      told = now;
      await sleep(LOOK_MS, undefined, { signal: over });
    }
  } catch (error) {
    if (!over.aborted) broken.abort(error);
  }
}
