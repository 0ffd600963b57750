/**
 * The flux capture container (`.fsflux`), version 1: a CBOR sequence (RFC 8742) of a header, one
 * item a track
 * reading, and a trailer. `docs/formats/flux-container.md` is its specification.
 */
import { encode } from 'cborg';
import type { Digester, Sha256Stream } from '../digester';
import type { TrackReading } from './reading';
import { CAPTURE_LIMITS } from './limits';

const CONTAINER_FORMAT = 'frail-spindle-flux';
/** Bytes within which a header names its format. */
export const FORMAT_WITHIN = 256;

/**
 * Whether bytes begin with a container's header, whole or hurt: a name or extension never counts.
 */
export function beginsAsContainer(bytes: Uint8Array): boolean {
  return String.fromCharCode(...bytes.subarray(0, FORMAT_WITHIN)).includes(CONTAINER_FORMAT);
}
const CONTAINER_VERSION = 1;

export type FormFactor = '8' | '5.25' | '3.5';

/** Facts about the drive as it was used, and what was known of the disk. */
export interface ContainerHeader {
  tickHz: number;
  form: FormFactor;
  rpm: number;
  cylinders: number;
  heads: number;
  layout?: string;
  label?: string;
  created?: string;
  notes?: string;
  /** Keys this version does not know. */
  extra?: Record<string, unknown>;
}

const HEADER_TEXTS = ['layout', 'label', 'created', 'notes'] as const;
const HEADER_KEYS = new Set([
  'format',
  'version',
  'tickHz',
  'form',
  'rpm',
  'cylinders',
  'heads',
  ...HEADER_TEXTS,
]);
const READING_KEYS = new Set(['cylinder', 'head', 'pass', 'index', 'flux']);

/** A whole number a capture may hold: at least 0 and below `limit`. */
function isCount(value: unknown, limit: number): value is number {
  return typeof value === 'number' && Number.isSafeInteger(value) && value >= 0 && value < limit;
}

function unknownKeys(
  entries: Map<string, unknown>,
  known: Set<string>,
): Record<string, unknown> | undefined {
  const extra = [...entries].filter(([key]) => !known.has(key));
  return extra.length > 0 ? Object.fromEntries(extra) : undefined;
}

/**
 * The header of a map that claims to be one; keys that are missing or of no sense are named in
 * `damaged`.
 */
export function parseHeader(
  entries: Map<string, unknown>,
): { header: Partial<ContainerHeader>; damaged: string[] } | null {
  if (entries.get('format') !== CONTAINER_FORMAT) return null;
  const damaged: string[] = [];
  const header: Partial<ContainerHeader> = {};
  if (entries.get('version') !== CONTAINER_VERSION)
    damaged.push(`version ${String(entries.get('version'))}`);
  const tickHz = entries.get('tickHz');
  if (isCount(tickHz, CAPTURE_LIMITS.tickHz + 1) && tickHz >= 100_000) header.tickHz = tickHz;
  else damaged.push('tickHz');
  const form = entries.get('form');
  if (form === '8' || form === '5.25' || form === '3.5') header.form = form;
  else damaged.push('form');
  const rpm = entries.get('rpm');
  if (typeof rpm === 'number' && rpm > 30 && rpm < 10_000) header.rpm = rpm;
  else damaged.push('rpm');
  takeCountsAndTexts(entries, header, damaged);
  header.extra = unknownKeys(entries, HEADER_KEYS);
  return { header, damaged };
}

function takeCountsAndTexts(
  entries: Map<string, unknown>,
  header: Partial<ContainerHeader>,
  damaged: string[],
) {
  for (const key of ['cylinders', 'heads'] as const) {
    const value = entries.get(key);
    if (isCount(value, CAPTURE_LIMITS[key] + 1)) header[key] = value;
    else damaged.push(key);
  }
  for (const key of HEADER_TEXTS) {
    const value = entries.get(key);
    if (typeof value === 'string') header[key] = value;
    else if (value !== undefined) damaged.push(key);
  }
}

/**
 * The reading in a map, or null where it is none. Index pulses out of order are left out and
 * counted.
 */
export function parseReading(
  entries: Map<string, unknown>,
): { reading: TrackReading; droppedPulses: number } | null {
  const [cylinder, head, pass, pulses, flux] = ['cylinder', 'head', 'pass', 'index', 'flux'].map(
    (key) => entries.get(key),
  );
  if (
    !isCount(cylinder, CAPTURE_LIMITS.cylinders) ||
    !isCount(head, CAPTURE_LIMITS.heads) ||
    !isCount(pass, 2 ** 32)
  )
    return null;
  if (
    !Array.isArray(pulses) ||
    pulses.length > CAPTURE_LIMITS.indexPulses ||
    !pulses.every((pulse) => isCount(pulse, 2 ** 53))
  )
    return null;
  if (!(flux instanceof Uint8Array) || flux.length > CAPTURE_LIMITS.fluxBytes) return null;
  const index: number[] = [];
  for (const pulse of pulses as number[])
    if (index.length === 0 || pulse > index[index.length - 1]!) index.push(pulse);
  const extra = unknownKeys(entries, READING_KEYS);
  const reading: TrackReading = { cylinder, head, pass, index, flux, ...(extra && { extra }) };
  return { reading, droppedPulses: pulses.length - index.length };
}

/** The trailer in a map, or null. */
export function parseTrailer(
  entries: Map<string, unknown>,
): { tracks: number; sha256: Uint8Array } | null {
  const tracks = entries.get('tracks');
  const sha256 = entries.get('sha256');
  return isCount(tracks, 2 ** 32) && sha256 instanceof Uint8Array && sha256.length === 32
    ? { tracks, sha256 }
    : null;
}

// Keys must stay in the order of the specification: a reader finds the next item after damage by
// its first key.
const IN_ORDER = { mapSorter: () => 0 };

function headerMap(header: ContainerHeader): Record<string, unknown> {
  const map: Record<string, unknown> = {
    format: CONTAINER_FORMAT,
    version: CONTAINER_VERSION,
    tickHz: header.tickHz,
    form: header.form,
    rpm: header.rpm,
    cylinders: header.cylinders,
    heads: header.heads,
  };
  for (const key of HEADER_TEXTS) if (header[key] !== undefined) map[key] = header[key];
  return { ...map, ...header.extra };
}

/** Bytes of one reading item. */
export function encodeReading(reading: TrackReading): Uint8Array {
  const { cylinder, head, pass, index, flux, extra } = reading;
  return encode({ cylinder, head, pass, index, flux, ...extra }, IN_ORDER);
}

/** Writes a container piece by piece; each call returns the bytes to append. */
export class ContainerWriter {
  private readonly hash: Sha256Stream;
  private tracks = 0;

  constructor(digester: Digester) {
    this.hash = digester.sha256Stream();
  }

  header(header: ContainerHeader): Uint8Array {
    return this.counted(encode(headerMap(header), IN_ORDER));
  }

  reading(reading: TrackReading): Uint8Array {
    this.tracks++;
    return this.counted(encodeReading(reading));
  }

  trailer(): Uint8Array {
    return encodeTrailer(this.tracks, this.hash.digest());
  }

  private counted(bytes: Uint8Array): Uint8Array {
    this.hash.update(bytes);
    return bytes;
  }
}

/** The trailer over `tracks` readings; `sha256` is of every byte before it. */
export function encodeTrailer(tracks: number, sha256: Uint8Array): Uint8Array {
  return encode({ tracks, sha256 }, IN_ORDER);
}
