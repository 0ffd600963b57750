/** Directories and maps of the .d64 family, field by field. */
import type { FieldRule, AreaRule } from './rules';

const D64_ENTRY: readonly FieldRule[] = [
  [2, 'type', 'bytes', 1],
  [3, 'first sector', 'track-sector'],
  [5, 'name', 'd64-text', 16],
  [21, 'side sector', 'track-sector'],
  [23, 'record length', 'u8'],
  [30, 'blocks', 'u16'],
];

export const d64Directory = (offset: number): AreaRule => ({
  name: 'Directory',
  offset,
  length: 256,
  fields: [[0, 'next sector', 'track-sector']],
  records: [{ offset: 0, step: 32, count: 8, name: 'entry', fields: D64_ENTRY }],
});

export const d64Map = (extra: readonly FieldRule[]): AreaRule => ({
  name: 'Map and header',
  offset: 91_392,
  length: 256,
  fields: [
    [0, 'directory begins at', 'track-sector'],
    [2, 'format', 'd64-text', 1],
    [0x90, 'disk name', 'd64-text', 16],
    [0xa2, 'id', 'd64-text', 2],
    [0xa5, 'version', 'd64-text', 2],
    ...extra,
  ],
  records: [
    {
      offset: 4,
      step: 4,
      count: 35,
      name: 'track',
      fields: [
        [0, 'free', 'u8'],
        [1, 'map', 'bytes', 3],
      ],
    },
  ],
});

export const d81Map = (name: string, offset: number): AreaRule => ({
  name,
  offset,
  length: 256,
  fields: [
    [0, 'next sector', 'track-sector'],
    [2, 'version', 'd64-text', 1],
    [4, 'id', 'd64-text', 2],
  ],
  records: [
    {
      offset: 0x10,
      step: 6,
      count: 40,
      name: 'track',
      fields: [
        [0, 'free', 'u8'],
        [1, 'map', 'bytes', 5],
      ],
    },
  ],
});
