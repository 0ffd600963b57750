/**
 * A disc of sound alone: two horns and a bell, the bell with its treble lifted (IEC 60908: 50 and
 * 15 µs), as discs of some houses were. Its sheet says so.
 */
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { horn } from './devices';

const RATE = 44_100;
const SECTORS_A_SECOND = 75;
const [HORN, GAP, BELL, SECOND_HORN] = [6, 2, 5, 4].map((seconds) => seconds * SECTORS_A_SECOND);
/** The partials of a bell: of its lowest tone so many times as high, and so many seconds to a third. */
const PARTIALS = [
  [1, 1.6],
  [2.0, 1.1],
  [2.4, 0.9],
  [3.0, 0.7],
  [4.2, 0.4],
  [5.4, 0.3],
] as const;
const LOWEST_HZ = 392;

/** Lifts treble as the recorder did: the curve (1 + 50 µs · s) / (1 + 15 µs · s), made of steps. */
class Lift {
  private before = 0;
  private given = 0;

  next(value: number): number {
    const [up, down] = [50e-6 * 2 * RATE, 15e-6 * 2 * RATE];
    const out = ((1 + up) * value + (1 - up) * this.before - (1 - down) * this.given) / (1 + down);
    this.before = value;
    this.given = out;
    return out;
  }
}

function bell(sectors: number): Uint8Array {
  const bytes = new Uint8Array(sectors * RAW_BYTES);
  const view = new DataView(bytes.buffer);
  const lift = new Lift();
  for (let i = 0; i < bytes.length / 4; i++) {
    // Struck again each two and a half seconds.
    const t = (i / RATE) % 2.5;
    const sum = PARTIALS.reduce(
      (all, [times, dies]) =>
        all + Math.exp(-t / dies) * Math.sin(2 * Math.PI * LOWEST_HZ * times * t),
      0,
    );
    const value = Math.round(lift.next(2500 * sum * Math.min(1, t * 400)));
    view.setInt16(i * 4, value, true);
    view.setInt16(i * 4 + 2, value, true);
  }
  return bytes;
}

/** Built anew at each call. */
export function listeningDisc(): { image: Uint8Array; cue: string } {
  const image = Buffer.concat([
    horn(HORN!, 110, 'north again'),
    new Uint8Array(GAP! * RAW_BYTES),
    bell(BELL!),
    horn(SECOND_HORN!, 82, 'south again'),
  ]);
  const cue = `FILE "fog.bin" BINARY
  TRACK 01 AUDIO
    INDEX 01 00:00:00
    INDEX 02 00:03:00
  TRACK 02 AUDIO
    FLAGS PRE
    INDEX 00 00:06:00
    INDEX 01 00:08:00
  TRACK 03 AUDIO
    PREGAP 00:01:00
    INDEX 01 00:13:00
`;
  return { image, cue };
}
