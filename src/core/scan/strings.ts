/** Runs of printable characters in an image: what a person looks for first in something unknown. */
import type { ByteSource } from '../bits/byte-source';

interface FoundString {
  offset: number;
  text: string;
}

const CHUNK = 1 << 18;
/** A longer run is given in parts. */
const LONGEST = 4096;

/** Runs of at least `least` characters of ASCII, at most `limit` of them. */
export async function stringsOf(
  source: ByteSource,
  least: number,
  limit: number,
): Promise<{ strings: FoundString[]; more: boolean }> {
  const strings: FoundString[] = [];
  let run = '';
  let start = 0;
  const end = () => {
    if (run.length >= least) strings.push({ offset: start, text: run });
    run = '';
  };
  for (let at = 0; at < source.size; at += CHUNK) {
    const bytes = await source.read(at, CHUNK);
    for (let i = 0; i < bytes.length; i++) {
      const byte = bytes[i]!;
      if (byte >= 0x20 && byte < 0x7f) {
        if (run === '') start = at + i;
        run += String.fromCharCode(byte);
        if (run.length < LONGEST) continue;
      }
      end();
      if (strings.length >= limit) return { strings: strings.slice(0, limit), more: true };
    }
  }
  end();
  return { strings: strings.slice(0, limit), more: strings.length > limit };
}
