/**
 * The most a capture may claim before it is disbelieved. Far above any drive, far below what
 * exhausts memory.
 */
export const CAPTURE_LIMITS = Object.freeze({
  cylinders: 256,
  heads: 2,
  /** Ticks a second: 4 GHz. */
  tickHz: 4e9,
  indexPulses: 4096,
  /** Bytes of one reading's flux. */
  fluxBytes: 64 * 2 ** 20,
  /** Problems listed one by one before they are only counted. */
  problems: 200,
});
