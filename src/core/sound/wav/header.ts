/**
 * WAV: the header before linear PCM samples (RIFF WAVE, `fmt ` and `data` chunks of Multimedia
 * Programming Interface 1.0).
 */

interface PcmFormat {
  channels: number;
  /** Frames a second. */
  rate: number;
  bits: 8 | 16 | 24 | 32;
}

export const WAV_HEADER_BYTES = 44;
/** RIFF sizes have 32 bits. */
const MAX_DATA = 0xffffffff - WAV_HEADER_BYTES;

/**
 * The 44 bytes before `dataBytes` of samples, which follow least byte first, and `bytesBehind` of
 * other chunks. Throws RangeError beyond what RIFF can hold.
 */
export function wavHeader(
  dataBytes: number,
  { channels, rate, bits }: PcmFormat,
  bytesBehind = 0,
): Uint8Array {
  if (dataBytes < 0 || dataBytes + bytesBehind > MAX_DATA)
    throw new RangeError(`${dataBytes} bytes of samples do not fit a WAV file`);
  const header = new Uint8Array(WAV_HEADER_BYTES);
  const view = new DataView(header.buffer);
  const text = (at: number, word: string) => {
    for (let i = 0; i < word.length; i++) header[at + i] = word.charCodeAt(i);
  };
  const frameBytes = (channels * bits) / 8;
  text(0, 'RIFF');
  view.setUint32(4, WAV_HEADER_BYTES - 8 + dataBytes + bytesBehind, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * frameBytes, true);
  view.setUint16(32, frameBytes, true);
  view.setUint16(34, bits, true);
  text(36, 'data');
  view.setUint32(40, dataBytes, true);
  return header;
}

/** Sound of a compact disc (IEC 60908). */
export const DISC_PCM: PcmFormat = Object.freeze({ channels: 2, rate: 44_100, bits: 16 });
