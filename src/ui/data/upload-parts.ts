/**
 * Large files go in parts (tus 1.0.0): what breaks off goes on where it was, even after the page
 * was closed.
 */
import { Upload } from 'tus-js-client';
import { ApiError, get } from './api';

interface State {
  state: 'coming' | 'waiting' | 'taking-in' | 'done' | 'refused';
  now: string;
  code: string | null;
}

/**
 * Bytes of one request: the server puts away what came of it as it comes, so a break costs little;
 * each end of one costs a moment in which nothing comes.
 */
const PART = 128 << 20;
/** Tries after a break, in milliseconds: for some ten minutes. */
const RETRIES = [0, 1000, 3000, 5000, 10_000, 20_000, 30_000, 60_000, 60_000, 120_000, 300_000];
const LOOK_MS = 700;

interface PartsOptions {
  about: Record<string, string>;
  /** Bytes that are there, of all; then what the server does with them. */
  tell: (text: string, share: number) => void;
  signal?: AbortSignal;
}

/** Sends a file and waits until it is taken in; gives the medium's code. */
export async function uploadInParts(
  file: File,
  name: string,
  { about, tell, signal }: PartsOptions,
): Promise<string> {
  const url = await sent(file, name, about, tell, signal);
  for (;;) {
    const { state, now, code } = await get<State>(url);
    if (state === 'done' && code) return code;
    if (state === 'refused') throw new ApiError(now, 422);
    tell(now, 1);
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}

function sent(
  file: File,
  name: string,
  about: Record<string, string>,
  tell: PartsOptions['tell'],
  signal?: AbortSignal,
): Promise<string> {
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: '/api/uploads',
      chunkSize: PART,
      retryDelays: RETRIES,
      removeFingerprintOnSuccess: true,
      metadata: { ...about, filename: name },
      onProgress: (done, all) =>
        tell(
          `${Math.floor((100 * done) / all)} % of ${(all / 2 ** 20).toFixed(0)} MiB`,
          done / all,
        ),
      onSuccess: () => resolve(new URL(upload.url!, location.href).pathname),
      onError: (error) => {
        const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
        reject(
          new ApiError(
            sentence(body) ??
              'The connection broke. What came is kept: choose the same file again, and it ' +
                'goes on from there.',
            0,
          ),
        );
      },
      onShouldRetry: (error) =>
        ![400, 401, 403, 404, 409, 413, 415, 422].includes(
          error.originalResponse?.getStatus() ?? 0,
        ),
    });
    signal?.addEventListener(
      'abort',
      () =>
        void upload
          .abort()
          .then(() =>
            reject(
              new ApiError(
                'Stopped. What came is kept: choose the same file again, and it goes on from ' +
                  'there.',
                0,
              ),
            ),
          ),
    );
    void upload.findPreviousUploads().then((previous) => {
      if (previous[0]) upload.resumeFromPreviousUpload(previous[0]);
      upload.start();
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
