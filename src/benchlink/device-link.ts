/** What the application needs of a drive, wherever it is. Failures are `DeviceError`s. */
import type { TrackReading } from '@/core/flux/reading';
import type { Approach } from '@/core/reading/plan';
import type { ToldTrack } from '@/core/reading/told';
import type { DriveDescription, DriveStatus } from './messages';

export interface ReadTrackOptions {
  cylinder: number;
  head: number;
  pass: number;
  revolutions: number;
  approach: Approach;
}

export interface DeviceLink {
  drives(): Promise<DriveDescription[]>;
  status(drive: string): Promise<DriveStatus>;
  readTrack(drive: string, options: ReadTrackOptions, signal?: AbortSignal): Promise<TrackReading>;
  /** A track from a drive that delivers sectors, with what it says of each. */
  readSectors(drive: string, options: Omit<ReadTrackOptions, 'revolutions'>, signal?: AbortSignal): Promise<ToldTrack>;
  /** Writes one turn of flux that starts at the index. */
  writeTrack(drive: string, reading: TrackReading, signal?: AbortSignal): Promise<void>;
  close(): void;
}
