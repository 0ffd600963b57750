/**
 * The receiving side of XMODEM (C. Forsberg, XMODEM/YMODEM Protocol Reference, 1988): what a
 * program on the far machine does; the simulated one runs it.
 */
import { ACK, ASKS_CRC, blockBytes, CAN, EOT, NAK, SOH, STX } from './xmodem';

export interface ReceiverAbilities {
  /** It knows CRCs; else it asks for sums. */
  crc: boolean;
  /** It knows blocks of 1,024 bytes. */
  large: boolean;
}

export class XmodemReceiver {
  readonly received: number[] = [];
  isDone = false;
  isCancelled = false;
  private pending: number[] = [];
  private next = 1;
  private cancels = 0;
  /** What begins no block is waited out: the rest of it may look like anything. */
  private isWaitingOut = false;

  constructor(private readonly abilities: ReceiverAbilities) {}

  /** What it says before anything came, and whenever nothing came for a while. */
  ask(): number {
    return this.received.length === 0 && this.pending.length === 0 && this.abilities.crc
      ? ASKS_CRC
      : NAK;
  }

  /** After a silence half a block is no block. */
  silence(): number {
    this.pending = [];
    this.isWaitingOut = false;
    return this.ask();
  }

  /** Takes bytes of the line; gives what it answers. */
  take(bytes: Uint8Array): number[] {
    const answers: number[] = [];
    for (const byte of bytes) {
      if (this.pending.length === 0) {
        this.cancels = byte === CAN ? this.cancels + 1 : 0;
        if (this.cancels >= 2) this.isCancelled = true;
        if (byte === EOT && !this.isWaitingOut) {
          this.isDone = true;
          answers.push(ACK);
          continue;
        }
        if (byte === CAN || this.isWaitingOut) continue;
        if (byte !== SOH && !(byte === STX && this.abilities.large)) {
          this.isWaitingOut = true;
          continue;
        }
      }
      this.pending.push(byte);
      const size = this.pending[0] === STX ? 1024 : 128;
      if (this.pending.length < 3 + size + (this.abilities.crc ? 2 : 1)) continue;
      answers.push(this.block(Uint8Array.from(this.pending), size));
      this.pending = [];
    }
    return answers;
  }

  private block(got: Uint8Array, size: number): number {
    const data = got.subarray(3, 3 + size);
    const wanted = blockBytes(got[1]!, data, !this.abilities.crc);
    if (got.some((byte, i) => byte !== wanted[i])) return NAK;
    // The one before once more: its acknowledgement was lost.
    if (got[1] === ((this.next - 1) & 0xff)) return ACK;
    if (got[1] !== (this.next & 0xff)) return CAN;
    this.received.push(...data);
    this.next++;
    return ACK;
  }
}
