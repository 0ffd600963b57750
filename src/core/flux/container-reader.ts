/**
 * Reads `.fsflux` containers as they arrive, whole or hurt: cut, with bytes changed, dropped or
 * put in. Every
 * reading that can be had is given on, everything passed over is a problem with its byte offset.
 */
import { CUT, MALFORMED, itemEnd, readMap, type MapItem } from '../bits/cbor';
import { toHex, type Digester, type Sha256Stream } from '../digester';
import type { Problem, ProblemKind } from '../problems';
import { parseHeader, parseReading, parseTrailer, type ContainerHeader } from './container';
import { CAPTURE_LIMITS } from './limits';
import type { TrackReading } from './reading';
import { findItemStart } from './item-start';
import { KEY_READING } from './container-keys';
import { said, type Said } from '@/core/said';

/** What was found around the readings. */
export interface ContainerSummary {
  /** Null where the header was not there or not readable. */
  header: Partial<ContainerHeader> | null;
  /** The trailer is there and counts as many readings as were read. */
  complete: boolean;
  readings: number;
  bytes: number;
  problems: Problem[];
}

/** A stretch that is neither header, reading nor trailer, being passed over. */
interface Gap {
  start: number;
  kind: 'container-gap' | 'reading-invalid';
}

export class ContainerReader {
  private buffer: Uint8Array = new Uint8Array(0);
  private length = 0;
  private position = 0;
  /** File offset of buffer[0]. */
  private base = 0;
  private readonly hash: Sha256Stream | null;
  private header: Partial<ContainerHeader> | null = null;
  private first = true;
  private readings = 0;
  private trailer: { tracks: number; offset: number } | null = null;
  private trailing = -1;
  private gap: Gap | null = null;
  /** The last reading, held back until what follows shows that its length can be believed. */
  private held: { reading: TrackReading; offset: number; end: number; fluxStart: number } | null =
    null;
  private readonly problems: Problem[] = [];
  private unlisted = 0;

  /**
   * `onReading` gets each reading in file order; its flux is a copy, or a view on what was pushed.
   * Without a digester the digest is not checked.
   */
  constructor(
    private readonly onReading: (reading: TrackReading, offset: number) => void,
    digester: Digester | null,
  ) {
    this.hash = digester?.sha256Stream() ?? null;
  }

  /** Takes the next bytes of the file. */
  push(chunk: Uint8Array): void {
    this.append(chunk);
    this.work(false);
  }

  /** Says that the file ends here. */
  end(): ContainerSummary {
    this.work(true);
    this.release();
    const size = this.base + this.length;
    this.closeGap(size);
    if (this.trailing >= 0)
      this.report(
        'container-trailing',
        this.trailing,
        said('flux.bytesFollowTheTrailer', { size: size - this.trailing }),
      );
    if (!this.trailer) {
      if (this.readings === 0 && !this.header)
        this.report('not-a-capture', 0, said('flux.thisIsNoFlux'));
      else this.report('container-truncated', size, said('flux.theCaptureHasNo'));
    } else if (this.trailer.tracks !== this.readings) {
      this.report(
        'track-count-mismatch',
        this.trailer.offset,
        said('flux.theTrailerCountsReadings', {
          tracks: this.trailer.tracks,
          readings: this.readings,
        }),
      );
    }
    if (this.unlisted > 0)
      this.problems.push({
        kind: 'container-gap',
        offset: null,
        said: said('flux.furtherProblemsAreNot', { unlisted: this.unlisted }),
      });
    return {
      header: this.header,
      readings: this.readings,
      bytes: size,
      problems: this.problems,
      complete: this.trailer !== null && this.trailer.tracks === this.readings,
    };
  }

  private append(chunk: Uint8Array): void {
    const keep = this.length - this.keepFrom();
    if (keep === 0) {
      this.base += this.length;
      this.position = 0;
      this.buffer = chunk;
      this.length = chunk.length;
      return;
    }
    // Small pieces are only added while there is room: moving what is kept for each would take time
    // without end.
    if (this.owned && this.length + chunk.length <= this.buffer.length) {
      this.buffer.set(chunk, this.length);
      this.length += chunk.length;
      return;
    }
    const from = this.keepFrom();
    // A first chunk is the caller's own memory: grow into ours before writing.
    const room = Math.max(2 * (keep + chunk.length), 1 << 16);
    const next =
      this.buffer.length >= keep + chunk.length && this.owned ? this.buffer : new Uint8Array(room);
    if (next === this.buffer) next.copyWithin(0, from, this.length);
    else next.set(this.buffer.subarray(from, this.length));
    next.set(chunk, keep);
    this.owned = true;
    this.buffer = next;
    this.length = keep + chunk.length;
    this.base += from;
    this.position -= from;
    if (this.held) {
      this.held.offset -= from;
      this.held.end -= from;
      this.held.fluxStart -= from;
      const { fluxStart, reading } = this.held;
      this.held.reading = {
        ...reading,
        flux: next.subarray(fluxStart, fluxStart + reading.flux.length),
      };
    }
  }

  private owned = false;

  /** First byte of the buffer that may still be needed. */
  private keepFrom(): number {
    return this.held ? this.held.offset : this.position;
  }

  private work(ended: boolean): void {
    while (this.position < this.length && this.step(ended));
  }

  /** Reads one item; false when it needs more bytes. */
  private step(ended: boolean): boolean {
    const { buffer, position, length } = this;
    if (this.trailer && this.trailing < 0) this.trailing = this.base + position;
    const end = itemEnd(buffer, position, length);
    if (end === CUT && !ended && length - position < CAPTURE_LIMITS.fluxBytes) return false;
    if (buffer[position]! >>> 5 !== 5 || end === MALFORMED || end === CUT)
      return this.recover(ended, end);
    const map = readMap(buffer, position, end);
    if (!map || !this.take(map, position)) {
      // A whole map that is none of ours: passed over as one item.
      this.release();
      this.openGap('reading-invalid', position);
      this.advance(end);
      this.closeGap(this.base + end);
    }
    return true;
  }

  /** Takes a whole or cut map at `at` for what it is; false when it is nothing of ours. */
  private take(map: MapItem, at: number): boolean {
    const parsed = parseReading(map.entries);
    if (parsed) {
      this.release();
      this.closeGap(this.base + at);
      this.first = false;
      const { reading, droppedPulses } = parsed;
      if (droppedPulses > 0)
        this.report(
          'flux-damaged',
          this.base + at,
          said('flux.indexPulsesAreOut', { droppedPulses }),
        );
      this.held = {
        reading,
        offset: at,
        end: map.end,
        fluxStart: reading.flux.byteOffset - this.buffer.byteOffset,
      };
      this.advance(map.end);
      return true;
    }
    const trailer = map.cut ? null : parseTrailer(map.entries);
    if (trailer && !this.trailer) {
      this.release();
      this.closeGap(this.base + at);
      this.trailer = { tracks: trailer.tracks, offset: this.base + at };
      if (this.hash && toHex(this.hash.digest()) !== toHex(trailer.sha256)) {
        this.report('digest-mismatch', this.base + at, said('flux.theSha256In'));
      }
      this.position = map.end;
      return true;
    }
    const header = this.first && !map.cut ? parseHeader(map.entries) : null;
    if (header) {
      this.first = false;
      this.header = header.header;
      if (header.damaged.length > 0)
        this.report(
          'header-damaged',
          this.base + at,
          said('flux.theHeadersCantBe', { damaged: header.damaged.join(', ') }),
        );
      this.advance(map.end);
      return true;
    }
    return false;
  }

  /**
   * At the position there is no item that may stand there. If the length of the reading before
   * was changed, the next
   * items lie inside it; else search on for the next map that is a reading or the trailer.
   */
  private recover(ended: boolean, end: number): boolean {
    const { buffer, position, length } = this;
    if (this.shortenHeld()) return true;
    const start = findItemStart(buffer, position, length);
    if (start === position && end === CUT) {
      // The last reading of a file that was cut, or one whose length was changed: what there is of
      // its flux is kept.
      const map = readMap(buffer, position, length);
      if (map && this.take(map, position)) {
        this.shortenHeld();
        return true;
      }
    }
    this.release();
    this.openGap('container-gap', position);
    const next = start > position ? start : findItemStart(buffer, position + 1, length);
    // The pattern may straddle the end of what has come.
    this.advance(
      next >= 0 ? next : ended ? length : Math.max(position, length - KEY_READING.length - 2),
    );
    return next >= 0 || ended;
  }

  /** Ends the held reading where another item starts inside it; false when none does. */
  private shortenHeld(): boolean {
    const { held, buffer, length } = this;
    if (!held) return false;
    const inside = findItemStart(buffer, held.fluxStart, held.end);
    if (inside < 0 || !readMap(buffer, inside, length)) return false;
    held.reading = { ...held.reading, flux: buffer.subarray(held.fluxStart, inside) };
    this.report('container-gap', this.base + held.offset, said('flux.aReadingClaimsTo'));
    this.release();
    // The bytes from here on are in the digest already; it can't be right any more.
    this.position = inside;
    return true;
  }

  private openGap(kind: Gap['kind'], at: number): void {
    this.gap ??= { kind, start: this.base + at };
  }

  private closeGap(end: number): void {
    const gap = this.gap;
    if (!gap) return;
    this.gap = null;
    if (this.first && this.header === null && gap.start === 0) {
      this.first = false;
      this.report('header-damaged', 0, said('flux.theHeaderCantBe', { end }));
    } else if (gap.kind === 'reading-invalid') {
      this.report(
        'reading-invalid',
        gap.start,
        said('flux.anItemOfBytes', { end: end - gap.start }),
      );
    } else {
      this.report(
        'container-gap',
        gap.start,
        said('flux.bytesAreNoPart', { end: end - gap.start }),
      );
    }
  }

  /** Gives the held reading on. */
  private release(): void {
    const held = this.held;
    if (!held) return;
    this.held = null;
    this.readings++;
    const reading = this.owned
      ? { ...held.reading, flux: held.reading.flux.slice() }
      : held.reading;
    this.onReading(reading, this.base + held.offset);
  }

  private advance(to: number): void {
    if (!this.trailer) this.hash?.update(this.buffer.subarray(this.position, to));
    this.position = to;
  }

  private report(kind: ProblemKind, offset: number, what: Said): void {
    if (this.problems.length < CAPTURE_LIMITS.problems)
      this.problems.push({ kind, said: what, offset });
    else this.unlisted++;
  }
}

/** Reads a whole container from memory; the readings' flux are views on `bytes`. */
export function readContainer(
  bytes: Uint8Array,
  digester: Digester | null,
): ContainerSummary & { tracks: TrackReading[] } {
  const tracks: TrackReading[] = [];
  const reader = new ContainerReader((reading) => tracks.push(reading), digester);
  reader.push(bytes);
  return { ...reader.end(), tracks };
}
