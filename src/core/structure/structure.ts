/**
 * What the bytes at each place of a volume, or at the start of a file, are: areas and fields with
 * their values, to be laid over a listing of bytes.
 */
import type { ByteSource } from '../bits/byte-source';
import { charOf } from '../volume/d64/names';
import { fatTime } from '../volume/fat/directory';
import { decode437 } from '../volume/fat/names';
import { SAMPLER_LETTERS } from '../volume/sampler/read';
import {
  FAT_BOOT,
  FAT_BOOT_16,
  FAT_BOOT_32,
  FAT_ENTRY,
  FIXED_AREAS,
  MBR,
  PROGRAM_HEADER,
  SAMPLE_HEADER,
} from './tables';
import { type AreaRule, type FieldRule } from './rules';

export interface Field {
  /** In the source. */
  offset: number;
  length: number;
  name: string;
  /** As read, in words or figures. */
  value: string;
}

export interface Area {
  name: string;
  offset: number;
  length: number;
  fields: Field[];
}

const SIZES = {
  u8: 1,
  s8: 1,
  u16: 2,
  u16be: 2,
  u24: 3,
  u32: 4,
  'track-sector': 2,
  'date-time': 4,
} as const;

const hex = (bytes: Uint8Array) =>
  [...bytes].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');
const lettersOf = (text: string) =>
  `“${text
    .replace(/\0+$/, '')
    .replace(/[\u0000-\u001f\u007f-\u009f]/g, '·')
    .trimEnd()}”`;

function valueOf(bytes: Uint8Array, kind: FieldRule[2]): string {
  let number = 0;
  for (let i = 0; i < bytes.length && i < 4; i++) number += bytes[i]! * 256 ** i;
  switch (kind) {
    case 'u8':
    case 'u16':
    case 'u24':
    case 'u32':
      return number.toLocaleString('en');
    case 'u16be':
      return (bytes[0]! * 256 + bytes[1]!).toLocaleString('en');
    case 's8':
      return String((bytes[0]! << 24) >> 24);
    case 'track-sector':
      return `track ${bytes[0]}, sector ${bytes[1]}`;
    case 'text':
      return lettersOf(decode437(bytes));
    case 'high-text':
      return lettersOf(decode437(bytes.map((byte) => byte & 0x7f)));
    case 'd64-text':
      return lettersOf(Array.from(bytes, charOf).join(''));
    case 'sampler-text':
      return lettersOf(Array.from(bytes, (byte) => SAMPLER_LETTERS[byte] ?? '·').join(''));
    case 'date-time':
      return number === 0
        ? 'none'
        : (fatTime(Math.floor(number / 65536), number % 65536)?.replace('T', ' ') ?? 'no time');
    case 'bytes':
      return bytes.length > 16 ? `${bytes.length} bytes` : `${hex(bytes)}h`;
  }
}

/** Fields by rules, as far as the bytes reach. */
function fieldsBy(
  rules: readonly FieldRule[],
  bytes: Uint8Array,
  at: number,
  base: number,
  of = '',
): Field[] {
  return rules.flatMap(([offset, name, kind, given]) => {
    const length = given ?? SIZES[kind as keyof typeof SIZES];
    const start = at + offset;
    return start + length > bytes.length
      ? []
      : [
          {
            offset: base + start,
            length,
            name: of + name,
            value: valueOf(bytes.subarray(start, start + length), kind),
          },
        ];
  });
}

async function readArea(
  source: ByteSource,
  { name, offset, length, fields, records = [] }: AreaRule,
): Promise<Area | null> {
  if (offset >= source.size) return null;
  const bytes = await source.read(offset, length);
  const own = fieldsBy(fields, bytes, 0, offset);
  for (const { offset: first, step, count, name: of, fields: rules } of records) {
    for (let i = 0; i < count; i++)
      own.push(...fieldsBy(rules, bytes, first + i * step, offset, `${of} ${i + 1}: `));
  }
  return { name, offset, length: bytes.length, fields: own.sort((a, b) => a.offset - b.offset) };
}

const FAT_DIRECTORY_MOST = 64 * 1024;

async function fatAreas(source: ByteSource): Promise<AreaRule[]> {
  const boot = await source.read(0, 512);
  if (boot.length < 512) return [];
  const view = new DataView(boot.buffer, boot.byteOffset, boot.byteLength);
  const sector = view.getUint16(0x0b, true);
  // Disks without a parameter block have code there.
  if (![128, 256, 512, 1024, 2048, 4096].includes(sector))
    return [{ name: 'Boot sector', offset: 0, length: 512, fields: [FAT_BOOT[0]!] }];
  const short = view.getUint16(0x16, true);
  const fatBytes = (short || view.getUint32(0x24, true)) * sector;
  const first = view.getUint16(0x0e, true) * sector;
  const fats = Math.min(4, boot[0x10]!);
  const rootBytes = Math.min(FAT_DIRECTORY_MOST, view.getUint16(0x11, true) * 32);
  const marked = boot[0x26] === 0x29 || boot[0x26] === 0x28;
  return [
    {
      name: 'Boot sector',
      offset: 0,
      length: 512,
      fields: [...FAT_BOOT, ...(short === 0 ? FAT_BOOT_32 : marked ? FAT_BOOT_16 : [])],
    },
    ...Array.from({ length: fats }, (_, i) => ({
      name: `FAT ${i + 1}`,
      offset: first + i * fatBytes,
      length: fatBytes,
      fields: [[0, 'media byte', 'bytes', 1] as const],
    })),
    ...(rootBytes > 0
      ? [
          {
            name: 'Root directory',
            offset: first + fats * fatBytes,
            length: rootBytes,
            fields: [],
            records: [
              { offset: 0, step: 32, count: rootBytes / 32, name: 'entry', fields: FAT_ENTRY },
            ],
          },
        ]
      : []),
  ];
}

/**
 * The system's own areas of a volume, in order; places are in `source`, which begins where the
 * volume does.
 */
export async function areasOf(source: ByteSource, filesystem: string): Promise<Area[]> {
  const rules = /^fat/.test(filesystem)
    ? await fatAreas(source)
    : filesystem === 'mbr'
      ? [MBR]
      : (FIXED_AREAS[filesystem] ?? []);
  const areas: Area[] = [];
  for (const rule of rules) {
    const area = await readArea(source, rule);
    if (area) areas.push(area);
  }
  return areas;
}

/** What the first bytes of a file are, by its kind: a load address, a sample's header. */
export function fileFields(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): Field[] {
  const rules: readonly FieldRule[] =
    /^d(64|71|81)$/.test(filesystem) && type === 'PRG'
      ? [[0, 'loads at', 'bytes', 2]]
      : filesystem === 'granule' && type === '0' && bytes[0] === 0xff
        ? [
            [0, 'mark of a program', 'bytes', 1],
            [1, 'length', 'u16be'],
          ]
        : filesystem === 'granule' && type === '2' && bytes[0] === 0
          ? [
              [0, 'mark of a block', 'bytes', 1],
              [1, 'length', 'u16be'],
              [3, 'loads at', 'bytes', 2],
            ]
          : filesystem === 'sampler'
            ? bytes[0] === 3
              ? SAMPLE_HEADER
              : bytes[0] === 1
                ? PROGRAM_HEADER
                : []
            : [];
  return fieldsBy(rules, bytes, 0, 0);
}
