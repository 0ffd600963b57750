/** Files of an image as they stand in a tree: under safe names, read where they lie. */
import type { ByteSource } from '@/core/bits/byte-source';
import { csvRow } from '@/core/csv';
import { streamContents } from '@/core/volume/contents';
import { extentSource } from '@/core/volume/extent-source';
import type { UniqueNames } from '@/core/volume/unique-names';
import type { VolumeEntry } from '@/core/volume/volume';
import { typeOfOwn } from './media-type';
import { partOf, type TreeFile } from './tree';

type Entry = Pick<
  VolumeEntry,
  'path' | 'recordedName' | 'bytes' | 'modified' | 'deleted' | 'extents' | 'packedBytes'
>;

export interface PlacedEntry {
  /** Where it stands, under its own name. */
  place: string;
  entry: Entry;
  /** Of the volume that it is on. */
  volume: ByteSource;
}

/** What is true of all that comes from one image. */
export interface OfImage {
  /** Changes with the image. */
  tag: string;
  /** Of what has no date of its own. */
  modified: Date;
}

const PIECE = 1 << 20;

/** Bytes of a source, piece by piece. */
async function* piecesOf(
  source: ByteSource,
  start: number,
  end: number,
): AsyncGenerator<Uint8Array> {
  for (let at = start; at < end;) {
    const piece = await source.read(at, Math.min(PIECE, end - at));
    if (piece.length === 0) return;
    yield piece;
    at += piece.length;
  }
}

/** Recorded without a zone: taken as of here. */
function dateOf(recorded: string | null, otherwise: Date): Date {
  const date = recorded === null ? otherwise : new Date(recorded);
  return Number.isNaN(date.getTime()) ? otherwise : date;
}

function contentOf({ entry, volume }: PlacedEntry): Pick<TreeFile, 'size' | 'stream'> {
  if (typeof entry.packedBytes === 'number') {
    const stream = (start: number, end: number) =>
      partOf(streamContents(volume, entry), start, end);
    return { size: entry.bytes, stream };
  }
  // What is cut is as long as what there is of it.
  const source = extentSource(volume, entry);
  return { size: source.size, stream: (start, end) => piecesOf(source, start, end) };
}

/** A text that was made for the tree. */
function textFile(path: string, text: string, { tag, modified }: OfImage): TreeFile {
  const bytes = new TextEncoder().encode(text);
  async function* stream(start: number, end: number): AsyncGenerator<Uint8Array> {
    yield bytes.subarray(start, end);
  }
  return {
    path,
    size: bytes.length,
    type: typeOfOwn(path),
    modified,
    tag: `${tag}-${path.length}-${bytes.length}`,
    stream,
  };
}

const COLUMNS = ['written_as', 'path', 'recorded_name', 'bytes', 'modified', 'deleted'];

/** The files, and a table of what each is called on its own volume. */
export function entryFiles(
  placed: readonly PlacedEntry[],
  names: UniqueNames,
  of: OfImage,
): TreeFile[] {
  let table = csvRow(COLUMNS);
  const files = placed.map((each, i): TreeFile => {
    const { place, entry } = each;
    const path = names.pathOf(place);
    const { path: own, recordedName, bytes, modified, deleted } = entry;
    table += csvRow([path, own, recordedName, bytes, modified, deleted ? 'yes' : '']);
    return {
      ...{ path, type: 'application/octet-stream', tag: `${of.tag}-${i}` },
      ...{ modified: dateOf(modified, of.modified), ...contentOf(each) },
    };
  });
  return files.length === 0 ? [] : [...files, textFile(names.pathOf('names.csv'), table, of)];
}

/** The image itself, or another part of it that lies there as bytes. */
export function sourceFile(path: string, source: ByteSource, { tag, modified }: OfImage): TreeFile {
  return {
    ...{ path, size: source.size, type: typeOfOwn(path), modified, tag },
    stream: (start, end) => piecesOf(source, start, end),
  };
}
