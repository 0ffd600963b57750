/** The body of a request, given up as soon as it passes a limit. */
import { UserError } from '../errors';
import { said } from '@/core/said';

/** `tooLarge` gives what is said of one that passes it; of files, where it is not given. */
export async function limitedBody(
  request: Request,
  limit: number,
  tooLarge = () =>
    new UserError(said('platform.filesOverMibCant', { limit: limit / 2 ** 20 }), 413),
): Promise<Uint8Array> {
  if (Number(request.headers.get('content-length') ?? 0) > limit) throw tooLarge();
  const parts: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (;;) {
    const { done, value } = (await reader?.read()) ?? { done: true as const, value: undefined };
    if (done || !value) break;
    size += value.length;
    if (size > limit) {
      await reader?.cancel();
      throw tooLarge();
    }
    parts.push(value);
  }
  return new Uint8Array(Buffer.concat(parts));
}
