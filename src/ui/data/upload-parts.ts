/**
 * Large files go in parts (tus 1.0.0): what breaks off goes on where it was, even after the page
 * was closed.
 */
import { Upload } from 'tus-js-client';
import { ApiError, get, upload } from './api';
import { say } from '@/messages';

interface State {
  state: 'coming' | 'waiting' | 'taking-in' | 'done' | 'refused';
  now: string;
  code: string | null;
  kind: 'capture' | 'image' | 'disc' | 'bag' | null;
}

/** What a file became. */
export interface TakenIn {
  /** Null of a bag, whose media have codes of their own. */
  code: string | null;
  kind: NonNullable<State['kind']>;
  /** In words. */
  now: string;
}

/**
 * Bytes of one request: the server puts away what came of it as it comes, so a break costs little;
 * each end of one costs a moment in which nothing comes.
 */
const PART = 128 << 20;
/** Tries after a break, in milliseconds: for some ten minutes. */
const RETRIES = [0, 1000, 3000, 5000, 10_000, 20_000, 30_000, 60_000, 60_000, 120_000, 300_000];
/** A small file is taken in within the first looks; a large one is looked at less often. */
const FIRST_LOOK_MS = 60;
const LONGEST_LOOK_MS = 700;

interface PartsOptions {
  about: Record<string, string>;
  /** Bytes that are there, of all; then what the server does with them. */
  tell: (text: string, share: number) => void;
  signal?: AbortSignal;
}

/** Sends a file in parts and waits until it is taken in. */
export async function uploadInParts(
  file: File,
  name: string,
  { about, tell, signal }: PartsOptions,
): Promise<TakenIn> {
  return untilTakenIn(await sent(file, name, about, tell, signal), tell);
}

/** Sends a small file with one request and waits until it is taken in. */
export async function uploadAtOnce(
  file: File,
  about: Record<string, string>,
  tell: PartsOptions['tell'] = () => undefined,
): Promise<TakenIn> {
  const { id } = await upload<{ id: string }>(`/api/intake?${new URLSearchParams(about)}`, file);
  return untilTakenIn(`/api/uploads/${id}`, tell);
}

async function untilTakenIn(url: string, tell: PartsOptions['tell']): Promise<TakenIn> {
  for (let pause = FIRST_LOOK_MS; ; pause = Math.min(LONGEST_LOOK_MS, pause * 1.5)) {
    const { state, now, code, kind } = await get<State>(url);
    if (state === 'done') return { code, kind: kind ?? 'image', now };
    if (state === 'refused') throw new ApiError(now, 422);
    tell(now, 1);
    await new Promise((resolve) => setTimeout(resolve, pause));
  }
}

const fingerprintOf = (
  { size, lastModified }: File,
  name: string,
  about: Record<string, string>,
): string => JSON.stringify([name, size, lastModified, about]);

function sent(
  file: File,
  name: string,
  about: Record<string, string>,
  tell: PartsOptions['tell'],
  signal?: AbortSignal,
): Promise<string> {
  return new Promise((resolve, reject) => {
    const parts = new Upload(file, {
      endpoint: '/api/uploads',
      chunkSize: PART,
      retryDelays: RETRIES,
      removeFingerprintOnSuccess: true,
      // What is said of it now would not be said of an upload that was begun with other words.
      fingerprint: async () => fingerprintOf(file, name, about),
      metadata: { ...about, filename: name },
      onProgress: (done, all) =>
        tell(
          say.parts.ofMib({
            done: Math.floor((100 * done) / all),
            all: (all / 2 ** 20).toFixed(0),
          }),
          done / all,
        ),
      onSuccess: () => resolve(new URL(parts.url!, location.href).pathname),
      onError: (error) => {
        const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
        reject(new ApiError(sentence(body) ?? say.parts.theConnectionBrokeWhat, 0));
      },
      onShouldRetry: (error) =>
        ![400, 401, 403, 404, 409, 413, 415, 422].includes(
          error.originalResponse?.getStatus() ?? 0,
        ),
    });
    signal?.addEventListener(
      'abort',
      () => void parts.abort().then(() => reject(new ApiError(say.parts.stoppedWhatCameIs, 0))),
    );
    void parts.findPreviousUploads().then((previous) => {
      if (previous[0]) parts.resumeFromPreviousUpload(previous[0]);
      parts.start();
    });
  });
}

/** What the server said of an error. */
function sentence(body: string | undefined): string | null {
  try {
    return (JSON.parse(body ?? '') as { error?: string }).error ?? null;
  } catch {
    return null;
  }
}
