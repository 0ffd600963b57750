/** A file of a parcel's payload: before it goes, and once it went. */
import type { BagFile } from '@/core/parcel/bag';

export interface PayloadFile {
  /** Below the folder of the payload. */
  path: string;
  bytes: number;
  /** Its media type. */
  type: string;
  /** Which part of the medium's image it is, where it is one. */
  part?: 'image' | 'sidecar' | 'capture';
  stream(): AsyncIterable<Uint8Array>;
}

/** A file that has gone, with its digests. */
export type Sent = BagFile & Pick<PayloadFile, 'type' | 'part'>;

export async function* oneOf(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield bytes;
}
