/**
 * A partitioned sampler disk of the survey's fog signals, laid out as its records say: two
 * partitions, with programs that lay the recordings over keys and velocities.
 */
import { putNumber, type RecordLayout } from '@/core/volume/record';
import {
  BLOCK,
  CHAIN_TABLE,
  ENTRY,
  ENTRY_FIELDS,
  FILE_HEADER,
  FILE_MARK,
  HEADER_BLOCKS,
  KEY_GROUP_FIELDS,
  LOOP_FIELDS,
  LOOP_TABLE,
  PARTITION_HEADER,
  PROGRAM_HEADER,
  SAMPLER_LETTERS,
  SAMPLE_HEADER,
  SYSTEM,
  VOLUME_FIELDS,
  VOLUME_TABLE,
  ZONE,
  ZONE_FIELDS,
  ZONE_TABLE,
} from '@/core/volume/sampler/records';

export interface DemoSample {
  name: string;
  rateHz: number;
  rootNote: number;
  cents: number;
  values: Int16Array;
  /** Held from its first frame up to the one behind its last. */
  loop: { from: number; to: number } | null;
}

interface DemoZone {
  sample: string;
  lowVelocity: number;
  highVelocity: number;
}

export interface DemoProgram {
  name: string;
  groups: { lowKey: number; highKey: number; zones: DemoZone[] }[];
}

export interface DemoVolume {
  name: string;
  samples: DemoSample[];
  programs: DemoProgram[];
}

const NAME = 12;
const END = 0xc000;
const HOLD = 9999;
const VALID = 0x80;
const VALID_AT = 15;

const named = (text: string): Uint8Array =>
  Uint8Array.from(text.padEnd(NAME), (letter) => SAMPLER_LETTERS.indexOf(letter));

/** Puts numbers into the fields of a record. */
function put<L extends RecordLayout>(
  bytes: Uint8Array,
  layout: L,
  values: Partial<Record<keyof L, number>>,
  at = 0,
): void {
  for (const [field, value] of Object.entries(values))
    putNumber(bytes, layout[field as keyof L & keyof RecordLayout]!, value as number, at);
}

function sampleFile({ name, rateHz, rootNote, cents, values, loop }: DemoSample): Uint8Array {
  const file = new Uint8Array(FILE_HEADER.usual + 2 * values.length);
  put(file, SAMPLE_HEADER, {
    kind: FILE_MARK.sample,
    rateCode: rateHz > 30_000 ? 1 : 0,
    rootNote,
    loops: loop ? 1 : 0,
    playback: loop ? 0 : 2,
    cents,
    samples: values.length,
    end: values.length - 1,
    rateInHz: rateHz,
  });
  file.set(named(name), SAMPLE_HEADER.name.at);
  file[VALID_AT] = VALID;
  if (loop)
    put(
      file,
      LOOP_FIELDS,
      { loopEnd: loop.to, coarseLength: loop.to - loop.from, timeInMs: HOLD },
      LOOP_TABLE,
    );
  const view = new DataView(file.buffer, FILE_HEADER.usual);
  values.forEach((value, i) => view.setInt16(2 * i, value, true));
  return file;
}

function programFile({ name, groups }: DemoProgram): Uint8Array {
  const file = new Uint8Array(FILE_HEADER.usual * (groups.length + 1));
  put(file, PROGRAM_HEADER, {
    kind: FILE_MARK.program,
    lowKey: 24,
    highKey: 127,
    keyGroups: groups.length,
  });
  file.set(named(name), PROGRAM_HEADER.name.at);
  for (const [number, { lowKey, highKey, zones }] of groups.entries()) {
    const at = FILE_HEADER.usual * (number + 1);
    put(file, KEY_GROUP_FIELDS, { kind: FILE_MARK.keyGroup, lowKey, highKey }, at);
    for (let zone = 0; zone < 4; zone++) {
      const from = at + ZONE_TABLE + zone * ZONE;
      const { sample = '', lowVelocity = 0, highVelocity = 0 } = zones[zone] ?? {};
      file.set(named(sample), from + ZONE_FIELDS.name.at);
      put(file, ZONE_FIELDS, { lowVelocity, highVelocity }, from);
    }
  }
  return file;
}

/** One partition, its files one behind the other. */
function partition(volumes: readonly DemoVolume[]): Uint8Array {
  const blocks: Uint8Array[] = [];
  const chains: number[] = Array<number>(HEADER_BLOCKS).fill(SYSTEM);
  const place = (bytes: Uint8Array): number => {
    const first = HEADER_BLOCKS + blocks.length;
    const count = Math.max(1, Math.ceil(bytes.length / BLOCK));
    for (let i = 0; i < count; i++) {
      const block = new Uint8Array(BLOCK);
      block.set(bytes.subarray(i * BLOCK, (i + 1) * BLOCK));
      blocks.push(block);
      chains.push(i + 1 < count ? first + i + 1 : END);
    }
    return first;
  };
  const header = new Uint8Array(HEADER_BLOCKS * BLOCK);
  for (const [number, { name, samples, programs }] of volumes.entries()) {
    const files = [
      ...programs.map((each) => ({ name: each.name, type: 'p', bytes: programFile(each) })),
      ...samples.map((each) => ({ name: each.name, type: 's', bytes: sampleFile(each) })),
    ];
    const directory = new Uint8Array(ENTRY * files.length);
    for (const [i, { name: own, type, bytes }] of files.entries()) {
      directory.set(named(own), i * ENTRY);
      const fields = {
        fileType: type.charCodeAt(0),
        bytes: bytes.length,
        firstBlock: place(bytes),
      };
      put(directory, ENTRY_FIELDS, fields, i * ENTRY);
    }
    const at = VOLUME_TABLE + number * 16;
    header.set(named(name), at);
    put(header, VOLUME_FIELDS, { fileType: 1, firstBlock: place(directory) }, at);
  }
  put(header, PARTITION_HEADER, { blocks: HEADER_BLOCKS + blocks.length });
  const table = new DataView(header.buffer, CHAIN_TABLE);
  chains.forEach((next, block) => table.setUint16(2 * block, next, true));
  return Buffer.concat([header, ...blocks]);
}

/** The whole disk: its partitions, and behind the last the end of their list. */
export const samplerDisc = (partitions: readonly (readonly DemoVolume[])[]): Uint8Array =>
  new Uint8Array(Buffer.concat([...partitions.map(partition), new Uint8Array(BLOCK)]));
