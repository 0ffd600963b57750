/**
 * What becomes of a volume where one sector of it is lost or overwritten: whether a volume is still
 * found, whether files that the sector has nothing of are still there byte for byte, and whether
 * anything that changed in the listing is told.
 */
import { memorySource } from '@/core/bits/byte-source';
import { seededRandom } from '@/core/bits/random';
import { identifyVolumes } from '@/core/identify/identify';
import { bytes437 } from '@/core/volume/fat/names';
import { directoriesOf } from '@/core/volume/disc-volume';
import type { VolumeEntry } from '@/core/volume/volume';
import { sha256Hex } from '../vectors';

type Filling = 'zeros' | 'noise';

export interface Stretch {
  offset: number;
  length: number;
}

/** A file as it is listed and read. */
export interface Read {
  path: string;
  bytes: number;
  digest: string;
  /** All that its entry says. */
  told: string;
  places: readonly Stretch[];
}

interface Opened {
  volumes: number;
  files: Map<string, Read>;
  /** Of every file in every directory. */
  digests: Set<string>;
  problems: Set<string>;
}

interface Loss {
  at: number;
  filling: Filling;
  /** What is wrong about how it was read; empty where nothing is. */
  faults: string[];
}

/** Places of a file beside its name and its contents: its index, its list of sectors, its entry. */
export type OtherPlaces = (image: Uint8Array, file: Read) => readonly Stretch[];

const noOtherPlaces: OtherPlaces = () => [];

async function readFile(
  volume: { read(entry: VolumeEntry): Promise<Uint8Array> },
  entry: VolumeEntry,
  offset: number,
): Promise<Read> {
  const { path, bytes, modified, locked, type, kind, damaged, extents } = entry;
  const places = extents
    .filter((each) => each.offset >= 0)
    .map((each) => ({ offset: each.offset + offset, length: each.length }));
  const told = JSON.stringify([bytes, modified, locked, type, kind, damaged]);
  return { path, bytes, digest: sha256Hex(await volume.read(entry)), told, places };
}

async function opened(image: Uint8Array): Promise<Opened> {
  const found = await identifyVolumes(memorySource(image));
  const problems = new Set(found.problems.map((problem) => JSON.stringify(problem)));
  const files = new Map<string, Read>();
  const digests = new Set<string>();
  for (const { volume, partition, offset } of found.volumes) {
    for (const problem of volume.problems) problems.add(JSON.stringify(problem));
    for (const entry of directoriesOf(volume).entries) {
      if (entry.deleted) continue;
      const path = partition === null ? entry.path : `${partition}/${entry.path}`;
      files.set(path, await readFile(volume, entry, offset));
    }
    for (const { entries } of directoriesOf(volume).others)
      for (const entry of entries) digests.add(sha256Hex(await volume.read(entry)));
  }
  for (const { digest } of files.values()) digests.add(digest);
  return { volumes: found.volumes.length, files, digests, problems };
}

const touches = (places: readonly Stretch[], at: number, bytes: number) =>
  places.some(({ offset, length }) => offset < at + bytes && at < offset + length);

/** In code page 437; empty where a letter is not in it. */
function in437(name: string): Buffer {
  try {
    return Buffer.from(bytes437(name.replace('.', ' ').slice(0, 4)));
  } catch {
    return Buffer.alloc(0);
  }
}

/** How a name may stand on a volume. */
function formsOf(name: string): Buffer[] {
  const [stem = '', ending = ''] = name.toUpperCase().split(/\.(?=[^.]*$)/);
  const letters = '0123456789 ABCDEFGHIJKLMNOPQRSTUVWXYZ#+-.';
  const wide = Buffer.from(name, 'utf16le');
  return [
    Buffer.from(name, 'latin1'),
    Buffer.from(name.toUpperCase(), 'latin1'),
    Buffer.from(name.toUpperCase().padEnd(12), 'latin1').map((byte) => byte | 0x80),
    Buffer.from(`${stem.slice(0, 8).padEnd(8)}${ending.slice(0, 3).padEnd(3)}`, 'latin1'),
    Buffer.from(`${stem.replaceAll(/[^A-Z0-9]/g, '').slice(0, 3)}`, 'latin1'),
    in437(name),
    Buffer.from(Array.from(name, (letter) => letters.indexOf(letter))),
    Buffer.from(wide).swap16(),
  ]
    .map((form) => Buffer.from(form))
    .filter((form) => form.length > 2);
}

/** Whether a sector names the file or a folder on the way to it. */
const names = (sector: Uint8Array, path: string): boolean =>
  path.split('/').some((part) => formsOf(part).some((form) => Buffer.from(sector).includes(form)));

class LossTrial {
  /** Where each file has anything of its own beside its name. */
  private readonly places: Map<string, readonly Stretch[]>;

  private constructor(
    private readonly image: Uint8Array,
    private readonly sound: Opened,
    otherPlaces: OtherPlaces,
  ) {
    this.places = new Map(
      Array.from(sound.files, ([path, file]) => [
        path,
        [...file.places, ...otherPlaces(image, file)],
      ]),
    );
  }

  static async of(image: Uint8Array, otherPlaces: OtherPlaces = noOtherPlaces): Promise<LossTrial> {
    return new LossTrial(image, await opened(image), otherPlaces);
  }

  /** Whether anything but the contents of files stands there. */
  isOfTheSystem(at: number, bytes: number): boolean {
    return ![...this.sound.files.values()].some(({ places }) => touches(places, at, bytes));
  }

  /** Reads the image with `bytes` from `at` on overwritten; null where nothing would change. */
  async lose(at: number, bytes: number, filling: Filling): Promise<Loss | null> {
    const random = seededRandom(`${at}/${filling}`);
    const instead = Uint8Array.from({ length: bytes }, () =>
      filling === 'zeros' ? 0 : random.below(256),
    );
    const before = this.image.slice(at, at + bytes);
    if (Buffer.from(before).equals(Buffer.from(instead))) return null;
    const hurt = this.image.slice();
    hurt.set(instead.subarray(0, before.length), at);
    return { at, filling, faults: this.faultsOf(await opened(hurt), at, before) };
  }

  private faultsOf(now: Opened, at: number, before: Uint8Array): string[] {
    if (now.volumes === 0) return ['no volume'];
    const faults: string[] = [];
    let isChanged = now.files.size !== this.sound.files.size;
    for (const [path, { digest, told, places }] of this.sound.files) {
      const after = now.files.get(path);
      // What became of a file's own bytes nobody can know.
      const isContents = after !== undefined && touches(places, at, before.length);
      isChanged ||= !isContents && after?.told !== told;
      const isTouched = touches(this.places.get(path)!, at, before.length) || names(before, path);
      // Where only its name is hurt a file is listed by what is left of it, or in another directory.
      const isThere = after?.digest === digest || now.digests.has(digest);
      if (!isTouched && !isThere) faults.push(after ? `wrong ${path}` : `no ${path}`);
    }
    const isTold = [...now.problems].some((problem) => !this.sound.problems.has(problem));
    if (isChanged && !isTold) faults.push('not told');
    return faults;
  }
}

/** What a volume is to be lost sector by sector by. */
export interface LossShape {
  sectorBytes: number;
  otherPlaces?: OtherPlaces;
  /** Bytes of a directory entry, and the first one's place and step, where entries are overwritten. */
  entries?: { at: number; step: number; count: number };
  /** The only sectors to lose; of large volumes, whose every loss takes long. */
  sectors?: readonly number[];
  /** It keeps no record of its files: that one changed can't be known. */
  keepsNoRecord?: true;
}

interface Shares {
  tried: number;
  right: number;
  /** `place filling` with what was wrong. */
  faults: [string, string[]][];
}

/**
 * Every sector of a volume lost in turn, and every entry of its directory's beginning. Unless `all`
 * are asked for, of sectors that hold nothing but contents, and of those that hold one byte
 * throughout, a few are tried.
 */
export async function loseEach(
  image: Uint8Array,
  { sectorBytes, otherPlaces, entries, sectors, keepsNoRecord }: LossShape,
  all: boolean,
): Promise<Shares> {
  const trial = await LossTrial.of(image, otherPlaces);
  const shares: Shares = { tried: 0, right: 0, faults: [] };
  const lose = async (at: number, bytes: number) => {
    for (const filling of ['zeros', 'noise'] as const) {
      const loss = await trial.lose(at, bytes, filling);
      if (!loss) continue;
      const faults = keepsNoRecord
        ? loss.faults.filter((fault) => fault === 'no volume')
        : loss.faults;
      shares.tried++;
      if (faults.length === 0) shares.right++;
      else shares.faults.push([`${at / bytes} ${filling}`, faults]);
    }
  };
  for (let at = 0, i = 0; at + sectorBytes <= image.length; at += sectorBytes, i++) {
    const sector = image.subarray(at, at + sectorBytes);
    const isBlank = sector.every((byte) => byte === sector[0]);
    if (sectors && !sectors.includes(i)) continue;
    const step = sectors
      ? 1
      : isBlank
        ? BLANK_STEP
        : trial.isOfTheSystem(at, sectorBytes)
          ? 1
          : CONTENT_STEP;
    if (all || i % step === 0) await lose(at, sectorBytes);
  }
  for (let i = 0; i < (entries?.count ?? 0); i++)
    await lose(entries!.at + i * entries!.step, entries!.step);
  return shares;
}

const CONTENT_STEP = 31;
const BLANK_STEP = 13;
