import { d64Directory, d64Map, d81Map } from './d64-tables';
import type { FieldRule, AreaRule } from './rules';

export const FAT_BOOT: readonly FieldRule[] = [
  [0, 'jump to the starting code', 'bytes', 3],
  [3, 'what formatted it', 'text', 8],
  [0x0b, 'bytes a sector', 'u16'],
  [0x0d, 'sectors a cluster', 'u8'],
  [0x0e, 'reserved sectors', 'u16'],
  [0x10, 'FATs', 'u8'],
  [0x11, 'root directory entries', 'u16'],
  [0x13, 'sectors', 'u16'],
  [0x15, 'media byte', 'bytes', 1],
  [0x16, 'sectors a FAT', 'u16'],
  [0x18, 'sectors a track', 'u16'],
  [0x1a, 'heads', 'u16'],
  [0x1c, 'hidden sectors', 'u32'],
  [0x20, 'sectors, where over 65,535', 'u32'],
  [0x1fe, 'mark of a boot sector', 'bytes', 2],
];

export const FAT_BOOT_16: readonly FieldRule[] = [
  [0x24, 'drive number', 'bytes', 1],
  [0x26, 'mark of the next three', 'bytes', 1],
  [0x27, 'serial number', 'bytes', 4],
  [0x2b, 'label', 'text', 11],
  [0x36, 'file system, as named', 'text', 8],
];

export const FAT_BOOT_32: readonly FieldRule[] = [
  [0x24, 'sectors a FAT', 'u32'],
  [0x28, 'flags', 'bytes', 2],
  [0x2a, 'version', 'u16'],
  [0x2c, 'first cluster of the root', 'u32'],
  [0x30, 'sector of free counts', 'u16'],
  [0x32, 'copy of the boot sector at', 'u16'],
  [0x43, 'serial number', 'bytes', 4],
  [0x47, 'label', 'text', 11],
  [0x52, 'file system, as named', 'text', 8],
];

export const FAT_ENTRY: readonly FieldRule[] = [
  [0, 'name', 'text', 11],
  [11, 'attributes', 'bytes', 1],
  [12, 'case of the name', 'bytes', 1],
  [13, 'made, hundredths', 'u8'],
  [14, 'made', 'bytes', 4],
  [20, 'first cluster, high half', 'u16'],
  [22, 'changed', 'date-time'],
  [26, 'first cluster', 'u16'],
  [28, 'bytes', 'u32'],
];

export const MBR: AreaRule = {
  name: 'Master boot record',
  offset: 0,
  length: 512,
  fields: [
    [0, 'starting code', 'bytes', 440],
    [0x1b8, 'disk signature', 'bytes', 4],
    [0x1fe, 'mark of a boot sector', 'bytes', 2],
  ],
  records: [
    {
      offset: 0x1be,
      step: 16,
      count: 4,
      name: 'partition',
      fields: [
        [0, 'active', 'bytes', 1],
        [1, 'first head, sector, cylinder', 'bytes', 3],
        [4, 'type', 'bytes', 1],
        [5, 'last head, sector, cylinder', 'bytes', 3],
        [8, 'first sector', 'u32'],
        [12, 'sectors', 'u32'],
      ],
    },
  ],
};

const PRODOS_ENTRY: readonly FieldRule[] = [
  [0, 'storage type and name length', 'bytes', 1],
  [1, 'name', 'text', 15],
  [16, 'type', 'bytes', 1],
  [17, 'key block', 'u16'],
  [19, 'blocks', 'u16'],
  [21, 'bytes', 'u24'],
  [24, 'made', 'bytes', 4],
  [30, 'access', 'bytes', 1],
  [31, 'auxiliary type', 'bytes', 2],
  [33, 'changed', 'bytes', 4],
];

/** Areas that lie at the same place on every volume of a kind. */
export const FIXED_AREAS: Readonly<Record<string, readonly AreaRule[]>> = Object.freeze({
  d64: [d64Map([]), d64Directory(91_648)],
  d71: [
    d64Map([
      [3, 'two sides', 'bytes', 1],
      [0xdd, 'free on tracks 36 to 70', 'bytes', 35],
    ]),
    d64Directory(91_648),
    {
      name: 'Map of the second side',
      offset: 266_240,
      length: 256,
      fields: [],
      records: [{ offset: 0, step: 3, count: 35, name: 'track', fields: [[0, 'map', 'bytes', 3]] }],
    },
  ],
  d81: [
    {
      name: 'Header',
      offset: 399_360,
      length: 256,
      fields: [
        [0, 'directory begins at', 'track-sector'],
        [2, 'format', 'd64-text', 1],
        [4, 'disk name', 'd64-text', 16],
        [0x16, 'id', 'd64-text', 2],
        [0x19, 'version', 'd64-text', 2],
      ],
    },
    d81Map('Map of tracks 1 to 40', 399_616),
    d81Map('Map of tracks 41 to 80', 399_872),
    d64Directory(400_128),
  ],
  prodos: [
    {
      name: 'Volume directory',
      offset: 1024,
      length: 512,
      fields: [
        [0, 'block before', 'u16'],
        [2, 'block after', 'u16'],
        [4, 'storage type and name length', 'bytes', 1],
        [5, 'volume name', 'text', 15],
        [0x1c, 'made', 'bytes', 4],
        [0x22, 'access', 'bytes', 1],
        [0x23, 'entry length', 'u8'],
        [0x24, 'entries a block', 'u8'],
        [0x25, 'files', 'u16'],
        [0x27, 'map begins at block', 'u16'],
        [0x29, 'blocks', 'u16'],
      ],
      records: [{ offset: 0x2b, step: 39, count: 12, name: 'entry', fields: PRODOS_ENTRY }],
    },
    {
      name: 'Volume directory, further blocks',
      offset: 1536,
      length: 1536,
      fields: [
        [0, 'block before', 'u16'],
        [2, 'block after', 'u16'],
      ],
    },
    { name: 'Map of free blocks', offset: 3072, length: 512, fields: [] },
  ],
  catalogue16: [
    {
      name: 'Table of contents',
      offset: 69_632,
      length: 256,
      fields: [
        [1, 'first catalogue sector', 'track-sector'],
        [3, 'release', 'u8'],
        [6, 'volume number', 'u8'],
        [0x27, 'pairs a list', 'u8'],
        [0x34, 'tracks', 'u8'],
        [0x35, 'sectors a track', 'u8'],
        [0x36, 'bytes a sector', 'u16'],
      ],
      records: [
        { offset: 0x38, step: 4, count: 50, name: 'track', fields: [[0, 'map', 'bytes', 2]] },
      ],
    },
    {
      name: 'Catalogue',
      offset: 73_472,
      length: 256,
      fields: [[1, 'next sector', 'track-sector']],
      records: [
        {
          offset: 0x0b,
          step: 35,
          count: 7,
          name: 'entry',
          fields: [
            [0, 'first list', 'track-sector'],
            [2, 'type', 'bytes', 1],
            [3, 'name', 'high-text', 30],
            [33, 'sectors', 'u16'],
          ],
        },
      ],
    },
  ],
  granule: [
    { name: 'Granule table', offset: 78_592, length: 256, fields: [[0, 'granules', 'bytes', 68]] },
    {
      name: 'Directory',
      offset: 78_848,
      length: 256,
      fields: [],
      records: [
        {
          offset: 0,
          step: 32,
          count: 8,
          name: 'entry',
          fields: [
            [0, 'name', 'text', 8],
            [8, 'extension', 'text', 3],
            [11, 'type', 'u8'],
            [12, 'as ASCII', 'bytes', 1],
            [13, 'first granule', 'u8'],
            [14, 'bytes in the last sector', 'u16be'],
          ],
        },
      ],
    },
  ],
  sampler: [
    {
      name: 'Partition header',
      offset: 0,
      length: 256,
      fields: [[0, 'blocks', 'u16']],
      records: [],
    },
    {
      name: 'Volume table',
      offset: 0xca,
      length: 1600,
      fields: [],
      records: [
        {
          offset: 0,
          step: 16,
          count: 100,
          name: 'volume',
          fields: [
            [0, 'name', 'sampler-text', 12],
            [12, 'type', 'u8'],
            [13, 'load number', 'u8'],
            [14, 'first block', 'u16'],
          ],
        },
      ],
    },
  ],
  wavesample: [{ name: 'System area', offset: 0, length: 11_264, fields: [] }],
});

export const SAMPLE_HEADER: readonly FieldRule[] = [
  [0, 'kind', 'u8'],
  [1, 'rate code', 'u8'],
  [2, 'root note', 'u8'],
  [3, 'name', 'sampler-text', 12],
  [15, 'valid', 'bytes', 1],
  [16, 'loops', 'u8'],
  [19, 'playback', 'u8'],
  [20, 'cents', 's8'],
  [21, 'semitones', 's8'],
  [26, 'samples', 'u32'],
  [30, 'start', 'u32'],
  [34, 'end', 'u32'],
  [138, 'rate in Hz', 'u16'],
];

export const PROGRAM_HEADER: readonly FieldRule[] = [
  [0, 'kind', 'u8'],
  [3, 'name', 'sampler-text', 12],
  [15, 'program', 'u8'],
  [16, 'channel', 'u8'],
  [19, 'low key', 'u8'],
  [20, 'high key', 'u8'],
  [42, 'key groups', 'u8'],
];
