/**
 * The sending side of XMODEM with CRC, in blocks of 128 or 1,024 bytes (C. Forsberg,
 * XMODEM/YMODEM Protocol Reference,
 * 1988), as a pure machine: bytes that came go in, bytes to send come out, silence is told. It
 * holds no clock and no line.
 */
import { said, type Said } from '@/core/said';
import { crc16 } from '../bits/crc16';

export const SOH = 0x01;
export const STX = 0x02;
export const EOT = 0x04;
export const ACK = 0x06;
export const NAK = 0x15;
export const CAN = 0x18;
/** Asks for CRCs instead of sums. */
export const ASKS_CRC = 0x43;
/** What fills the last block: the end of a text on systems that keep no length. */
const FILLER = 0x1a;

const SMALL = 128;
const LARGE = 1024;
/** Times one block is sent before it is given up. */
const MAX_TRIES = 10;
/** Two in a row end a transfer: one alone may be noise. */
const CANCELS = 2;
/** Large blocks that fail one after the other before the other side is taken not to know them. */
const LARGE_FAILURES = 3;

type SenderState = 'waiting' | 'sending' | 'ending' | 'done' | 'failed';

/** How far a transfer is, so that it goes on after whoever sent it was stopped. */
export interface SenderProgress {
  /** Bytes that the other side has acknowledged. */
  acknowledged: number;
  /** Number of the next block as it goes over the line, 0 to 255. */
  block: number;
  /** Sums instead of CRCs, because the other side asked so. */
  sums: boolean;
  large: boolean;
}

/** One block as it goes over the line: mark, number and its complement, bytes, check. */
export function blockBytes(number: number, data: Uint8Array, sums: boolean): Uint8Array {
  const size = data.length > SMALL ? LARGE : SMALL;
  const out = new Uint8Array(3 + size + (sums ? 1 : 2)).fill(FILLER);
  out.set([size === LARGE ? STX : SOH, number & 0xff, ~number & 0xff]);
  out.set(data, 3);
  const body = out.subarray(3, 3 + size);
  if (sums) out[3 + size] = body.reduce((sum, byte) => (sum + byte) & 0xff, 0);
  else {
    const check = crc16(body, 0, body.length, 0);
    out.set([check >> 8, check & 0xff], 3 + size);
  }
  return out;
}

export class XmodemSender {
  state: SenderState = 'waiting';
  /** Why it failed. */
  reason: Said | null = null;
  /** Blocks that were sent again. */
  repeated = 0;
  private tries = 0;
  private cancels = 0;
  private largeFailures = 0;

  /** `progress` of an earlier sender, whose transfer had begun, goes on where that one was. */
  constructor(
    private readonly bytes: Uint8Array,
    private readonly progress: SenderProgress,
    hasBegun = true,
  ) {
    if (hasBegun) this.state = progress.acknowledged >= bytes.length ? 'ending' : 'sending';
  }

  static begin(bytes: Uint8Array, large: boolean): XmodemSender {
    return new XmodemSender(bytes, { acknowledged: 0, block: 1, sums: false, large }, false);
  }

  get at(): SenderProgress {
    return { ...this.progress };
  }

  /** Takes bytes that came; gives what is to be sent for them. */
  take(came: Uint8Array): Uint8Array[] {
    const out: Uint8Array[] = [];
    for (const byte of came) {
      // Asked several times while nobody listened: once is enough.
      if (byte === ASKS_CRC && out.length > 0) continue;
      const answer = this.answer(byte);
      if (answer) out.push(answer);
    }
    return out;
  }

  /**
   * Nothing came for as long as the other side would have waited: what was sent last goes once
   * more.
   */
  silence(): Uint8Array | null {
    if (this.state === 'done' || this.state === 'failed') return null;
    const { acknowledged } = this.progress;
    if (++this.tries > MAX_TRIES)
      return this.fail(
        this.state === 'waiting'
          ? said('transfers.theOtherSideDoesNotBegin')
          : said('transfers.nothingComesBack', { acknowledged }),
      );
    return this.state === 'waiting' ? null : this.again();
  }

  /** Ends it on both sides. */
  cancel(): Uint8Array {
    this.state = 'failed';
    this.reason = said('transfers.givenUp');
    return Uint8Array.of(CAN, CAN, CAN);
  }

  private answer(byte: number): Uint8Array | null {
    if (byte === CAN)
      return ++this.cancels >= CANCELS ? this.fail(said('transfers.theOtherSideGave')) : null;
    this.cancels = 0;
    if (this.state === 'done' || this.state === 'failed') return null;
    if (this.state === 'waiting') return this.begin(byte);
    if (byte === ACK) return this.acknowledge();
    // Whoever asked for CRCs may do so once more while the first block is on its way.
    const asksOnceMore = byte === ASKS_CRC && this.progress.acknowledged === 0;
    return byte === NAK || asksOnceMore ? this.refused() : null;
  }

  private begin(byte: number): Uint8Array | null {
    if (byte !== ASKS_CRC && byte !== NAK) return null;
    this.progress.sums = byte === NAK;
    // Large blocks came with CRCs: who asks for sums does not know them.
    if (this.progress.sums) this.progress.large = false;
    this.tries = 0;
    this.state = this.bytes.length === 0 ? 'ending' : 'sending';
    return this.current();
  }

  private acknowledge(): Uint8Array | null {
    this.tries = 0;
    this.largeFailures = 0;
    if (this.state === 'ending') {
      this.state = 'done';
      return null;
    }
    const { progress } = this;
    progress.acknowledged = Math.min(this.bytes.length, progress.acknowledged + this.size());
    progress.block = (progress.block + 1) & 0xff;
    if (progress.acknowledged >= this.bytes.length) this.state = 'ending';
    return this.current();
  }

  private refused(): Uint8Array | null {
    if (++this.tries <= MAX_TRIES) return this.again();
    const { acknowledged } = this.progress;
    return this.fail(said('transfers.oneBlockWasRefused', { times: MAX_TRIES, acknowledged }));
  }

  private again(): Uint8Array {
    this.repeated++;
    if (this.progress.large && this.state === 'sending' && ++this.largeFailures >= LARGE_FAILURES)
      this.progress.large = false;
    return this.current();
  }

  private size(): number {
    // The last bytes go in small blocks, so that less is filled.
    return this.progress.large && this.bytes.length - this.progress.acknowledged >= LARGE
      ? LARGE
      : SMALL;
  }

  private current(): Uint8Array {
    if (this.state === 'ending') return Uint8Array.of(EOT);
    const { acknowledged, block, sums } = this.progress;
    return blockBytes(block, this.bytes.subarray(acknowledged, acknowledged + this.size()), sums);
  }

  private fail(reason: Said): null {
    this.state = 'failed';
    this.reason = reason;
    return null;
  }
}
