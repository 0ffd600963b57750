/** Volume descriptors of ISO 9660 (ECMA-119, section 8), and whether an image has them. */
import type { ByteSource } from '@/core/bits/byte-source';
import { ProblemList } from '../extent-volume';
import { bothEndian, readRecord } from './directory-record';
import { SECTOR, LIMITS, ascii } from './records';
import { said, type Said } from '@/core/said';

const FIRST_DESCRIPTOR = 16;

export interface Descriptor {
  kind: 'plain' | 'joliet';
  at: number;
  blockBytes: number;
  blocks: number;
  label: string;
  root: Uint8Array;
  pathTable: { bytes: number; block: number };
}

/** Joliet's names are in UCS-2, most byte first. */
export const ucs2 = (bytes: Uint8Array) =>
  String.fromCharCode(
    ...Array.from(
      { length: bytes.length >> 1 },
      (_, i) => (bytes[2 * i]! << 8) | bytes[2 * i + 1]!,
    ),
  );

export async function descriptorsOf(
  source: ByteSource,
  problems: ProblemList | null,
): Promise<{ descriptors: Descriptor[]; bootCatalogue: number | null }> {
  const descriptors: Descriptor[] = [];
  let bootCatalogue: number | null = null;
  for (let i = 0; i < LIMITS.descriptors; i++) {
    const at = (FIRST_DESCRIPTOR + i) * SECTOR;
    const bytes = await source.read(at, SECTOR);
    if (bytes.length < SECTOR || ascii(bytes.subarray(1, 6)) !== 'CD001') {
      if (descriptors.length > 0)
        problems?.report('descriptor-damaged', at, said('iso9660.theListOfVolume'));
      break;
    }
    if (bytes[0] === 255) break;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (bytes[0] === 0 && ascii(bytes.subarray(7, 30)) === 'EL TORITO SPECIFICATION')
      bootCatalogue = view.getUint32(71, true);
    const escape = ascii(bytes.subarray(88, 91));
    const joliet = bytes[0] === 2 && /^%\/[@CE]/.test(escape);
    if (bytes[0] !== 1 && !joliet) continue;
    const blockBytes = checkedBlockBytes(view, source, problems, at);
    const table = bothEndian(view, 132, 4, (value) => value <= source.size);
    descriptors.push({
      kind: joliet ? 'joliet' : 'plain',
      at,
      blockBytes,
      blocks: Math.floor(source.size / blockBytes),
      label: (joliet ? ucs2 : ascii)(bytes.subarray(40, 72)).replace(/[\0 ]+$/, ''),
      root: bytes.slice(156, 190),
      pathTable: { bytes: table.value, block: view.getUint32(140, true) },
    });
  }
  return { descriptors, bootCatalogue };
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
    confidence: root?.isDirectory ? 0.97 : 0.6,
    reasons: [
      said('iso9660.aPrimaryVolumeDescriptor'),
      ...(root?.isDirectory ? [said('iso9660.itsRootIsA')] : []),
      ...(descriptors.some(({ kind }) => kind === 'joliet')
        ? [said('iso9660.jolietNamesBesideIt')]
        : []),
    ],
  };
}
