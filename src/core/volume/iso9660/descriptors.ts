/** Volume descriptors of ISO 9660 (ECMA-119, section 8), and whether an image has them. */
import type { ByteSource } from '@/core/bits/byte-source';
import { ProblemList } from '../extent-volume';
import { bothEndian, readRecord } from './directory-record';
import { lostDescriptors } from './lost-root';
import { FIRST_DESCRIPTOR, SECTOR, LIMITS, ascii, type Descriptor } from './records';
import { said, type Said } from '@/core/said';

/** Joliet's names are in UCS-2, most byte first. */
export const ucs2 = (bytes: Uint8Array) =>
  String.fromCharCode(
    ...Array.from(
      { length: bytes.length >> 1 },
      (_, i) => (bytes[2 * i]! << 8) | bytes[2 * i + 1]!,
    ),
  );

interface Descriptors {
  descriptors: Descriptor[];
  bootCatalogue: number | null;
  /** Anything that stands where descriptors do is one. */
  isAny: boolean;
}

function descriptorIn(
  bytes: Uint8Array,
  at: number,
  source: ByteSource,
  problems: ProblemList | null,
): Descriptor | null {
  const isJoliet = bytes[0] === 2 && /^%\/[@CE]/.test(ascii(bytes.subarray(88, 91)));
  if (bytes[0] !== 1 && !isJoliet) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const blockBytes = checkedBlockBytes(view, source, problems, at);
  const table = bothEndian(view, 132, 4, (value) => value <= source.size);
  return {
    kind: isJoliet ? 'joliet' : 'plain',
    isLost: false,
    at,
    blockBytes,
    blocks: Math.floor(source.size / blockBytes),
    label: (isJoliet ? ucs2 : ascii)(bytes.subarray(40, 72)).replace(/[\0 ]+$/, ''),
    root: bytes.slice(156, 190),
    pathTable: {
      bytes: table.value,
      block: view.getUint32(140, true),
      bigBlock: view.getUint32(148),
    },
  };
}

/** The descriptors up to their end mark. One that is lost does not end them; two in a row do. */
async function listOf(source: ByteSource, problems: ProblemList | null): Promise<Descriptors> {
  const found: Descriptors = { descriptors: [], bootCatalogue: null, isAny: false };
  let lost: number[] = [];
  for (let i = 0; i < LIMITS.descriptors && lost.length < 2; i++) {
    const at = (FIRST_DESCRIPTOR + i) * SECTOR;
    const bytes = await source.read(at, SECTOR);
    if (bytes.length < SECTOR) break;
    if (ascii(bytes.subarray(1, 6)) !== 'CD001') {
      lost.push(at);
      continue;
    }
    found.isAny = true;
    for (const place of lost)
      problems?.report('descriptor-damaged', place, said('iso9660.aVolumeDescriptorIs'));
    lost = [];
    if (bytes[0] === END_OF_SET) return found;
    if (bytes[0] === 0 && ascii(bytes.subarray(7, 30)) === 'EL TORITO SPECIFICATION')
      found.bootCatalogue = new DataView(bytes.buffer, bytes.byteOffset).getUint32(71, true);
    const descriptor = descriptorIn(bytes, at, source, problems);
    if (descriptor) found.descriptors.push(descriptor);
  }
  if (found.isAny)
    problems?.report('descriptor-damaged', lost[0] ?? source.size, said('iso9660.theListOfVolume'));
  return found;
}

const END_OF_SET = 255;

/**
 * All descriptors of a disc; those that are lost are worked out from their roots, where anything
 * says that it is such a disc.
 */
export async function descriptorsOf(
  source: ByteSource,
  problems: ProblemList | null,
): Promise<Descriptors> {
  const found = await listOf(source, problems);
  const isPlain = found.descriptors.some(({ kind }) => kind === 'plain');
  if (!found.isAny || isPlain) return found;
  const lost = await lostDescriptors(source);
  const known = new Set(found.descriptors.map(({ kind }) => kind));
  const more = lost.filter(({ kind }) => !known.has(kind));
  return { ...found, descriptors: [...more, ...found.descriptors] };
}

function checkedBlockBytes(
  view: DataView<ArrayBufferLike>,
  source: ByteSource,
  problems: ProblemList | null,
  at: number,
) {
  const block = bothEndian(view, 128, 2, (value) => [512, 1024, 2048].includes(value));
  const blockBytes = [512, 1024, 2048].includes(block.value) ? block.value : SECTOR;
  const space = bothEndian(view, 80, 4, (value) => value * blockBytes <= source.size);
  if (block.little !== block.big || space.little !== space.big)
    problems?.report(
      'both-endian-mismatch',
      at,
      said('iso9660.theVolumesSizeIs', {
        little: space.little,
        big: space.big,
        value: space.value,
      }),
    );
  if (space.value * blockBytes > source.size)
    problems?.report(
      'truncated',
      source.size,
      said('iso9660.theVolumeHasBlocks', {
        value: space.value,
        blockBytes,
        source: Math.floor(source.size / blockBytes),
      }),
    );
  return blockBytes;
}

export async function probeIso9660(
  source: ByteSource,
): Promise<{ confidence: number; reasons: Said[] } | null> {
  if (source.size < (FIRST_DESCRIPTOR + 1) * SECTOR) return null;
  const { descriptors } = await descriptorsOf(source, null);
  const plain = descriptors.find(({ kind }) => kind === 'plain');
  if (!plain) return null;
  const root = readRecord(plain.root, 0, plain.at + 156, plain);
  return {
    confidence: plain.isLost ? 0.75 : root?.isDirectory ? 0.97 : 0.6,
    reasons: [
      plain.isLost ? said('iso9660.aRootThatLeads') : said('iso9660.aPrimaryVolumeDescriptor'),
      ...(root?.isDirectory ? [said('iso9660.itsRootIsA')] : []),
      ...(descriptors.some(({ kind }) => kind === 'joliet')
        ? [said('iso9660.jolietNamesBesideIt')]
        : []),
    ],
  };
}
