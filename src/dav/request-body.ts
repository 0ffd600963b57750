/** The body of a request, as far as that is short. */
import type { IncomingMessage } from 'node:http';

export class BodyTooLarge extends Error {}

/** Throws BodyTooLarge; what comes beyond the limit is not held. */
export async function limitedBody(request: IncomingMessage, limit: number): Promise<Uint8Array> {
  const parts: Buffer[] = [];
  let size = 0;
  return new Promise((resolve, reject) => {
    request.on('data', (part: Buffer) => {
      size += part.length;
      if (size > limit) reject(new BodyTooLarge());
      else parts.push(part);
    });
    request.on('end', () => resolve(Buffer.concat(parts)));
    request.on('error', reject);
  });
}
