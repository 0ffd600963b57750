/** Which connections have shown the token that the bench was started with. */
import { createHash, timingSafeEqual } from 'node:crypto';
import { DeviceError, type Request } from '@/benchlink/messages';

const digestOf = (text: string) => createHash('sha256').update(text).digest();

/** As long as it takes to compare all of it, wherever they differ. */
const isSame = (a: string, b: string): boolean => timingSafeEqual(digestOf(a), digestOf(b));

export class Admission {
  private readonly admitted = new WeakSet<object>();

  /** An empty token: everybody is let in. */
  constructor(private readonly token: string) {}

  get isWanted(): boolean {
    return this.token !== '';
  }

  /** Refuses what comes before the token, and a token that is another. */
  check(connection: object, request: Request): void {
    if (request.op === 'admit' && isSame(request.token, this.token)) this.admitted.add(connection);
    if (this.isWanted && !this.admitted.has(connection))
      throw new DeviceError('refused', 'This bench wants the token that it was started with.');
  }
}
