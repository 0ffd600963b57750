/** What the application needs of a drive, wherever it is. Failures are `DeviceError`s. */
import type { TrackReading } from '@/core/flux/reading';
import type { Approach } from '@/core/reading/plan/approach';
import type { ControllerTrack } from '@/core/reading/controller/controller-tracks';
import type { BlockMedium } from '@/core/block/device';
import type { DriveDescription, DriveStatus } from './messages';

export interface ReadTrackOptions {
  cylinder: number;
  head: number;
  pass: number;
  revolutions: number;
  approach: Approach;
}

export interface ReadBlocksOptions {
  from: number;
  count: number;
  /** One of the drive's speeds; null leaves it as it is. */
  speed: number | null;
  /** Ask which bytes the drive distrusts, of raw discs. */
  flags: boolean;
}

export interface BlocksRead {
  got: number;
  stopped: { why: 'unreadable' | 'time-out'; toldWhere: boolean } | null;
  ms: number;
  /** `got` blocks. */
  bytes: Uint8Array;
  /** A bit for each byte of them, top bit first; null where there are none. */
  flags: Uint8Array | null;
}

export interface DeviceLink {
  drives(): Promise<DriveDescription[]>;
  status(drive: string): Promise<DriveStatus>;
  readTrack(drive: string, options: ReadTrackOptions, signal?: AbortSignal): Promise<TrackReading>;
  /** A track from a drive that delivers sectors, with what it says of each. */
  readSectors(
    drive: string,
    options: Omit<ReadTrackOptions, 'revolutions'>,
    signal?: AbortSignal,
  ): Promise<ControllerTrack>;
  /** Writes one turn of flux that starts at the index. */
  writeTrack(drive: string, reading: TrackReading, signal?: AbortSignal): Promise<void>;
  /** What is in a drive that delivers blocks. */
  blockMedium(drive: string): Promise<BlockMedium>;
  /** Blocks one after the other, as far as they come. */
  readBlocks(
    drive: string,
    blockBytes: number,
    options: ReadBlocksOptions,
    signal?: AbortSignal,
  ): Promise<BlocksRead>;
  /** Writes whole blocks one after the other. */
  writeBlocks(
    drive: string,
    blockBytes: number,
    from: number,
    bytes: Uint8Array,
    signal?: AbortSignal,
  ): Promise<void>;
  close(): void;
}
