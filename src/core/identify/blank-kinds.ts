/** Volumes with nothing on them that can be made, as data: what they go on and what they are. */
import { SIXTEEN_SECTOR_BYTES } from '../volume/sixteen-sector-order';

export type BlankId =
  | 'fat12-360'
  | 'fat12-720'
  | 'fat12-1200'
  | 'fat12-1440'
  | 'd64'
  | 'd71'
  | 'd81'
  | 'prodos-280'
  | 'prodos-1600'
  | 'catalogue16'
  | 'cpm-8'
  | 'granule'
  | 'wavesample';

export interface BlankKind {
  id: BlankId;
  /** The layout that it goes on; null where none that ships carries it. */
  layout: string | null;
  bytes: number;
  /** Longest label it takes; 0 where it has none. */
  mostLabel: number;
  /** What its image is called by at its end. */
  ending: 'img' | 'd64' | 'd71' | 'd81';
}

const blank = (
  id: BlankId,
  layout: string | null,
  bytes: number,
  mostLabel = 0,
  ending: BlankKind['ending'] = 'img',
): BlankKind => Object.freeze({ id, layout, bytes, mostLabel, ending });

export const BLANK_KINDS: readonly BlankKind[] = Object.freeze([
  blank('fat12-360', 'mfm-525-9x512', 368_640, 11),
  blank('fat12-720', 'mfm-35-9x512', 737_280, 11),
  blank('fat12-1200', 'mfm-525-15x512', 1_228_800, 11),
  blank('fat12-1440', 'mfm-35-18x512', 1_474_560, 11),
  blank('d64', 'gcr45-525-35', 174_848, 16, 'd64'),
  blank('d71', null, 349_696, 16, 'd71'),
  blank('d81', 'mfm-35-10x512', 819_200, 16, 'd81'),
  blank('prodos-280', 'gcr62-525-16x256', SIXTEEN_SECTOR_BYTES, 15),
  blank('prodos-1600', null, 819_200, 15),
  blank('catalogue16', 'gcr62-525-16x256', SIXTEEN_SECTOR_BYTES),
  blank('cpm-8', 'fm-8-26x128', 256_256),
  blank('granule', 'mfm-525-18x256', 161_280),
  blank('wavesample', 'mfm-35-5x1024+512', 450_560),
]);
