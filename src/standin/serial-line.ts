/**
 * A simulated serial line with an old machine at its other end: a prompt that takes typed lines
 * at its own pace, and a
 * receiving program, which is there or is typed in first.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { seededRandom } from '@/core/bits/random';
import { XmodemReceiver, type ReceiverAbilities } from '@/core/transfer/xmodem-receiver';
import { DeviceError, type LineDescription } from '@/benchlink/messages';

/** Bits of a byte on the line: start, eight, stop. */
const BITS = 10;
/** Typed characters that the machine holds while it is busy with one; more at once are lost. */
const TYPED_AT_ONCE = 4;
const CR = 0x0d;
/** The line that starts what was typed. */
const RUN = 'RUN';

export class SerialLine {
  private rate = 9600;
  private out: number[] = [];
  private receiver: XmodemReceiver | null = null;
  private typed = '';
  private readonly program: string[] = [];
  private noise = 0;
  private readonly random = seededRandom('line');
  private files = 0;

  constructor(
    readonly description: LineDescription,
    private readonly wait: (seconds: number, signal: AbortSignal) => Promise<void>,
    private readonly folder: string,
  ) {}

  open(rate: number): void {
    if (!this.description.rates.includes(rate))
      throw new DeviceError(
        'refused',
        `Line ${this.description.id} can't be set to ${rate} bits a second.`,
      );
    this.rate = rate;
    this.out = [];
  }

  setNoise(oneIn: number): void {
    this.noise = oneIn;
  }

  startReceiving(abilities: ReceiverAbilities): void {
    this.receiver = new XmodemReceiver(abilities);
    this.out = [this.receiver.ask()];
  }

  async send(bytes: Uint8Array, signal: AbortSignal): Promise<void> {
    await this.wait((bytes.length * BITS) / this.rate, signal);
    if (!this.receiver) return this.type(bytes);
    this.out.push(...this.receiver.take(this.hurt(bytes)));
    if (this.receiver.isDone) {
      writeFileSync(
        join(this.folder, 'written', `line-${this.description.id}-${++this.files}.bin`),
        Uint8Array.from(this.receiver.received),
      );
      this.receiver = null;
    } else if (this.receiver.isCancelled) this.receiver = null;
  }

  async receive(waitMs: number, signal: AbortSignal): Promise<Uint8Array> {
    if (this.out.length === 0) {
      await this.wait(waitMs / 1000, signal);
      if (this.out.length === 0 && this.receiver && waitMs > 0)
        this.out.push(this.receiver.silence());
    }
    return Uint8Array.from(this.out.splice(0));
  }

  /** At its prompt: what comes too fast is lost, as is whatever follows a line's end at once. */
  private type(bytes: Uint8Array): void {
    for (const byte of bytes.subarray(0, TYPED_AT_ONCE)) {
      this.out.push(byte);
      if (byte !== CR) {
        this.typed += String.fromCharCode(byte);
        continue;
      }
      const line = this.typed;
      this.typed = '';
      if (line.trim() === RUN && this.program.length > 0)
        return this.startReceiving({ crc: true, large: false });
      if (line.trim() !== '') this.program.push(line);
      return;
    }
  }

  /** One message in so many loses its end or has a bit turned over. */
  private hurt(bytes: Uint8Array): Uint8Array {
    if (this.noise === 0 || bytes.length < 10 || this.random.below(this.noise) > 0) return bytes;
    if (this.random.below(2) === 0) return bytes.subarray(0, this.random.below(bytes.length));
    const hurt = bytes.slice();
    hurt[this.random.below(bytes.length)]! ^= 1 << this.random.below(8);
    return hurt;
  }
}
