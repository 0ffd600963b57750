/**
 * Frames of the bench protocol: a line of JSON, and behind it as many bytes as its `payload` says.
 */
import { FRAME_LIMITS } from './messages';

export interface Frame {
  message: Record<string, unknown>;
  payload: Uint8Array;
}

/** A peer that breaks the framing can't be followed any further. */
export class FramingError extends Error {}

const NEWLINE = 0x0a;

export function encodeFrame(message: object, payload?: Uint8Array): Uint8Array {
  const line = new TextEncoder().encode(
    `${JSON.stringify(payload ? { ...message, payload: payload.length } : message)}\n`,
  );
  if (!payload) return line;
  const frame = new Uint8Array(line.length + payload.length);
  frame.set(line);
  frame.set(payload, line.length);
  return frame;
}

/** Cuts a byte stream into frames. */
export class FrameReader {
  private buffer = new Uint8Array(1 << 16);
  private length = 0;

  /**
   * Takes bytes; gives the frames that are whole now. Throws FramingError for what breaks the
   * limits.
   */
  push(chunk: Uint8Array): Frame[] {
    this.append(chunk);
    const frames: Frame[] = [];
    let from = 0;
    for (;;) {
      const end = this.buffer.subarray(0, this.length).indexOf(NEWLINE, from);
      if (end < 0) {
        if (this.length - from > FRAME_LIMITS.line)
          throw new FramingError(`a line of more than ${FRAME_LIMITS.line} bytes`);
        break;
      }
      if (end - from > FRAME_LIMITS.line)
        throw new FramingError(`a line of more than ${FRAME_LIMITS.line} bytes`);
      const message = parseLine(this.buffer.subarray(from, end));
      const size = message.payload ?? 0;
      if (
        typeof size !== 'number' ||
        !Number.isInteger(size) ||
        size < 0 ||
        size > FRAME_LIMITS.payload
      )
        throw new FramingError('a payload of impossible size');
      if (end + 1 + size > this.length) break;
      frames.push({ message, payload: this.buffer.slice(end + 1, end + 1 + size) });
      from = end + 1 + size;
    }
    this.buffer.copyWithin(0, from, this.length);
    this.length -= from;
    return frames;
  }

  private append(chunk: Uint8Array): void {
    if (this.length + chunk.length > this.buffer.length) {
      const grown = new Uint8Array(2 * (this.length + chunk.length));
      grown.set(this.buffer.subarray(0, this.length));
      this.buffer = grown;
    }
    this.buffer.set(chunk, this.length);
    this.length += chunk.length;
  }
}

function parseLine(line: Uint8Array): Record<string, unknown> {
  try {
    const message: unknown = JSON.parse(new TextDecoder().decode(line));
    if (typeof message === 'object' && message !== null && !Array.isArray(message))
      return message as Record<string, unknown>;
  } catch {
    // Falls through to the same answer.
  }
  throw new FramingError('a line that is no JSON object');
}
