/**
 * What is no volume that is read here, and says itself what it is: file systems, tables of
 * partitions, packed files, by the marks that their standards put at a fixed place.
 */
import type { ByteSource } from '../bits/byte-source';
import { said, type Said } from '../said';

type Sort = 'fileSystem' | 'partitionTable' | 'archive';

const SORTS: Readonly<Record<Sort, Said>> = Object.freeze({
  fileSystem: said('identify.fileSystem'),
  partitionTable: said('identify.partitionTable'),
  archive: said('identify.archive'),
});

interface Signature {
  name: string;
  sort: Sort;
  at: number;
  bytes: readonly number[];
}

const letters = (text: string): number[] => Array.from(text, (letter) => letter.charCodeAt(0));

const signature =
  (sort: Sort) =>
  (name: string, at: number, mark: string | readonly number[]): Signature => ({
    name,
    sort,
    at,
    bytes: typeof mark === 'string' ? letters(mark) : mark,
  });

const fileSystem = signature('fileSystem');
const table = signature('partitionTable');
const archive = signature('archive');

const SIGNATURES: readonly Signature[] = Object.freeze([
  table('GPT', 512, 'EFI PART'),
  table('GPT', 4096, 'EFI PART'),
  table('APM', 0, 'ER'),
  table('APM', 512, 'PM'),
  ...Array.from({ length: 16 }, (_, block) => table('RDB', block * 512, 'RDSK')),
  fileSystem('NTFS', 3, 'NTFS    '),
  fileSystem('exFAT', 3, 'EXFAT   '),
  fileSystem('HPFS', 8192, [0x49, 0xe8, 0x95, 0xf9]),
  fileSystem('HFS Plus', 1024, [0x48, 0x2b, 0x00, 0x04]),
  fileSystem('HFS Plus', 1024, [0x48, 0x58, 0x00, 0x05]),
  fileSystem('HFS', 1024, 'BD'),
  ...[0, 2, 4, 6].map((variant) => fileSystem('OFS', 0, [...letters('DOS'), variant])),
  ...[1, 3, 5, 7].map((variant) => fileSystem('FFS', 0, [...letters('DOS'), variant])),
  fileSystem('ext2', 1080, [0x53, 0xef]),
  ...[0x137f, 0x138f, 0x2468, 0x2478].map((magic) =>
    fileSystem('MINIX', 1040, [magic & 0xff, magic >> 8]),
  ),
  fileSystem('XFS', 0, 'XFSB'),
  fileSystem('SquashFS', 0, 'hsqs'),
  fileSystem('SquashFS', 0, 'sqsh'),
  ...[0, 8192, 65_536, 262_144].flatMap((at) => [
    fileSystem('UFS1', at + 1372, [0x54, 0x19, 0x01, 0x00]),
    fileSystem('UFS1', at + 1372, [0x00, 0x01, 0x19, 0x54]),
    fileSystem('UFS2', at + 1372, [0x19, 0x01, 0x54, 0x19]),
    fileSystem('UFS2', at + 1372, [0x19, 0x54, 0x01, 0x19]),
  ]),
  fileSystem('Btrfs', 65_600, '_BHRfS_M'),
  fileSystem('LUKS', 0, [...letters('LUKS'), 0xba, 0xbe]),
  ...[0, 512, 1024, 1536].map((at) => fileSystem('LVM2', at, 'LABELONE')),
  fileSystem('ReiserFS', 65_588, 'ReIsEr'),
  fileSystem('ReiserFS', 8244, 'ReIsEr'),
  fileSystem('swap', 4086, 'SWAPSPACE2'),
  fileSystem('swap', 4086, 'SWAP-SPACE'),
  fileSystem('JFS', 32_768, 'JFS1'),
  fileSystem('cramfs', 0, [0x45, 0x3d, 0xcd, 0x28]),
  fileSystem('romfs', 0, '-rom1fs-'),
  fileSystem('F2FS', 1024, [0x10, 0x20, 0xf5, 0xf2]),
  fileSystem('NXSB', 32, 'NXSB'),
  fileSystem('NILFS2', 1030, [0x34, 0x34]),
  fileSystem('ZFS', 131_072, [0x0c, 0xb1, 0xba, 0x00]),
  fileSystem('ISO 9660', 32_769, 'CD001'),
  fileSystem('High Sierra', 32_777, 'CDROM'),
  archive('ZIP', 0, [...letters('PK'), 3, 4]),
  archive('tar', 257, 'ustar'),
  archive('cpio', 0, '070701'),
  archive('cpio', 0, '070707'),
  archive('cpio', 0, [0xc7, 0x71]),
  archive('gzip', 0, [0x1f, 0x8b, 8]),
  archive('xz', 0, [0xfd, ...letters('7zXZ'), 0]),
  archive('7z', 0, [...letters('7z'), 0xbc, 0xaf, 0x27, 0x1c]),
  archive('zstd', 0, [0x28, 0xb5, 0x2f, 0xfd]),
  archive('bzip2', 0, 'BZh'),
]);

/** Two letters at one place are found by chance too: these need more to speak for them. */
const IS_BORNE_OUT: Readonly<Record<string, (source: ByteSource) => Promise<boolean>>> =
  Object.freeze({
    // A block size that is one, and a map behind it.
    APM: async (source) => {
      const [high = 0, low = 0] = await source.read(514, 2);
      return high === 0 && low === 0;
    },
    // Blocks of a size that is a multiple of 512, and a name of a length that one can have.
    HFS: async (source) => {
      const block = await source.read(1024, 64);
      const size = new DataView(block.buffer, block.byteOffset, block.length).getUint32(20);
      return block.length === 64 && size > 0 && size % 512 === 0 && block[36]! <= 27;
    },
    // A size of blocks up to 64 KiB, and inodes.
    ext2: async (source) => {
      const block = await source.read(1024, 64);
      const view = new DataView(block.buffer, block.byteOffset, block.length);
      return view.getUint32(0, true) > 0 && view.getUint32(24, true) <= 6;
    },
    MINIX: async (source) => {
      const block = await source.read(1024, 32);
      return block.some((byte) => byte !== 0) && block[10] === 0 && block[11] === 0;
    },
    NILFS2: async (source) => {
      const block = await source.read(1024, 8);
      return block[0] === 2 && block[1] === 0;
    },
    cpio: async (source) => (await source.read(0, 26)).length === 26,
    bzip2: async (source) => {
      const head = await source.read(3, 7);
      return head[0]! >= 0x31 && head[0]! <= 0x39 && head[1] === 0x31 && head[2] === 0x41;
    },
  });

interface Marked {
  /** The name of the standard's kind: `NTFS`. */
  name: string;
  said: Said;
}

/** What the source says that it is; null where it bears no mark that is known. */
export async function signatureOf(source: ByteSource): Promise<Marked | null> {
  for (const { name, sort, at, bytes } of SIGNATURES) {
    const there = await source.read(at, bytes.length);
    if (there.length < bytes.length || bytes.some((byte, i) => there[i] !== byte)) continue;
    if (!((await IS_BORNE_OUT[name]?.(source)) ?? true)) continue;
    return { name, said: said('identify.itIsOfAKind', { name, sort: SORTS[sort], at }) };
  }
  return null;
}
