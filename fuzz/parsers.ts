/**
 * What reads bytes that come from outside, each with sound inputs to begin with. A parser may refuse
 * what it is given in the ways that are its own; anything else that it throws is a defect.
 */
import { readdirSync } from 'node:fs';
import { FrameReader, FramingError } from '@/benchlink/framing';
import { memorySource, type ByteSource } from '@/core/bits/byte-source';
import { encodeReading } from '@/core/flux/container';
import { readContainer } from '@/core/flux/container-reader';
import { candidatesOf, identifyVolumes } from '@/core/identify/identify';
import { volumesInside } from '@/core/identify/inside';
import { imageCandidates } from '@/core/image/kinds';
import { parseLayout } from '@/core/layout/schema';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { alignedDisc } from '@/core/optical/aligned-source';
import { parseCue } from '@/core/optical/cue';
import { examineDisc } from '@/core/optical/disc';
import { discData } from '@/core/optical/disc-data';
import { seenTracks } from '@/core/optical/seen-tracks';
import { discWithoutSheet } from '@/core/optical/sheet-for-disc';
import {
  indexMembers,
  packChunk,
  packedSource,
  PackedDamage,
  readIndex,
} from '@/core/packing/packed';
import { pictureOf } from '@/core/picture/picture';
import { TrackDecoder } from '@/core/reading/decode/track-decoder';
import { areasOf } from '@/core/structure/areas';
import { transcriptOf } from '@/core/text/transcript';
import { viewsOf } from '@/core/volume/disc-volume';
import { ReadingBudget, ReadOnce } from '@/core/volume/reading-budget';
import { isSafeName } from '@/core/volume/safe-name';
import { nodeDeflater, nodeInflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { loadVector } from '../tests/support/vectors';

interface Parser {
  name: string;
  /** Sound inputs. */
  corpus(): Promise<Uint8Array[]>;
  /** Bytes that it gave, or nothing that can be counted. */
  parse(bytes: Uint8Array): Promise<number>;
  /** Errors by which it refuses an input. */
  refusals?: readonly (new (...args: never[]) => Error)[];
}

/** The largest vector of a corpus; larger ones are looked at by their beginning. */
const MOST_OF_VECTOR = 1 << 20;

const vectors = (folder: string, pattern: RegExp): Uint8Array[] =>
  readdirSync(`tests/vectors/${folder}`)
    .filter((name) => pattern.test(name))
    .map((name) => loadVector(`${folder}/${name.replace(/\.gz$/, '')}`).slice(0, MOST_OF_VECTOR));

/** A source that refuses what no source may be asked for. */
function watched(bytes: Uint8Array): ByteSource {
  const inner = memorySource(bytes);
  return {
    size: inner.size,
    read: (offset, length) => {
      if (
        !Number.isSafeInteger(offset) ||
        offset < 0 ||
        !Number.isSafeInteger(length) ||
        length < 0
      )
        throw new Error(`read of ${length} bytes at ${offset}`);
      return inner.read(offset, length);
    },
  };
}

/** Everything that is listed is read, once each, within the budget that the house has. */
async function readVolumes(source: ByteSource): Promise<number> {
  const budget = new ReadingBudget(source.size);
  const { volumes } = await identifyVolumes(source);
  let given = 0;
  for (const { volume, offset, length } of volumes) {
    const once = new ReadOnce<number>(budget);
    const listed = [...volume.entries, ...viewsOf(volume).flatMap(({ entries }) => entries)];
    for (const entry of listed) {
      if (!entry.path.split('/').every(isSafeName)) throw new Error(`path ${entry.path}`);
      if (entry.kind !== 'file') continue;
      const read = async () => {
        let bytes = 0;
        for await (const part of volume.stream(entry)) bytes += part.length;
        if (bytes > entry.bytes) throw new Error(`${bytes} bytes of ${entry.bytes}`);
        return bytes;
      };
      given += (await once.of(entry, read)) ?? 0;
    }
    await areasOf(
      { size: length, read: (at, count) => source.read(offset + at, count) },
      volume.filesystem,
    );
    for await (const inner of volumesInside(source, volume)) given += inner.volume.entries.length;
  }
  return given;
}

const volumes = (name: string, pattern: RegExp): Parser => ({
  name,
  corpus: async () => vectors('volumes', pattern),
  parse: async (bytes) => readVolumes(watched(bytes)),
});

const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

async function packedVector(): Promise<Uint8Array> {
  const content = loadVector('volumes/fat12-old-fe.img').subarray(0, 100_000);
  const member = await packChunk(content, nodeDeflater);
  const index = indexMembers([member.length], content.length, nodeDigester.sha256(content));
  return Uint8Array.from([member, ...index].flatMap((part) => [...part]));
}

export const PARSERS: readonly Parser[] = [
  volumes('fat', /^(bad-)?fat|^mbr/),
  volumes('linked sectors', /^d\d1|^d64/),
  volumes('block trees', /^prodos/),
  volumes('catalogue', /^catalogue/),
  volumes('cpm', /^cpm/),
  volumes('granules', /^granule/),
  volumes('sampler', /^sampler|^wavesample/),
  {
    name: 'data discs',
    corpus: async () => vectors('optical', /\.iso\.gz$/),
    parse: async (bytes) => readVolumes(watched(bytes)),
  },
  {
    name: 'raw discs',
    corpus: async () => vectors('optical', /\.bin\.gz$/),
    async parse(bytes) {
      const disc = await discWithoutSheet(watched(bytes), 'a');
      if (!disc) return 0;
      const { sectors } = await examineDisc({ ...disc, sources: [disc.source] }, nodeDigester);
      const { tracks } = await seenTracks(disc.sheet, [disc.source]);
      const data = await discData([disc.source], tracks);
      return sectors + (data ? await readVolumes(data) : 0);
    },
  },
  {
    name: 'cue sheets',
    corpus: async () => vectors('optical', /\.cue\.gz$/),
    async parse(bytes) {
      const image = memorySource(loadVector('optical/disc-clean.bin'));
      const sheet = parseCue(text(bytes));
      const disc = await alignedDisc(
        sheet,
        sheet.files.map(() => image),
      );
      const { tracks } = await seenTracks(disc.sheet, disc.sources);
      return (await discData(disc.sources, tracks))?.size ?? 0;
    },
  },
  {
    name: 'containers',
    corpus: async () => vectors('flux', /\.fsflux\.gz$/),
    async parse(bytes) {
      const { tracks } = readContainer(bytes, nodeDigester);
      return tracks.reduce((sum, { flux }) => sum + flux.length, 0);
    },
  },
  {
    name: 'flat images',
    corpus: async () => vectors('volumes', /\.(d64|d71|d81|do|po)\.gz$/),
    async parse(bytes) {
      await candidatesOf(watched(bytes));
      return imageCandidates(bytes).length;
    },
  },
  {
    name: 'packed files',
    corpus: async () => [await packedVector()],
    refusals: [PackedDamage],
    async parse(bytes) {
      const source = watched(bytes);
      const index = await readIndex(source);
      if (!index) return 0;
      const content = packedSource(source, index, nodeInflater);
      return (await content.read(0, Math.min(content.size, 8 << 20))).length;
    },
  },
  {
    name: 'pictures',
    corpus: async () => vectors('pictures', /./),
    async parse(bytes) {
      return pictureOf(bytes, 'fat12', null)?.rgba.length ?? 0;
    },
  },
  {
    name: 'texts and programs',
    corpus: async () => [
      ...vectors('volumes', /\.(d64|do)\.gz$/).map((bytes) => bytes.slice(0, 5000)),
      new TextEncoder().encode('10 PRINT "FOG"\r\n20 GOTO 10\r\n'),
    ],
    async parse(bytes) {
      let letters = 0;
      for (const [filesystem, type] of [
        ['d64', 'PRG'],
        ['catalogue16', 'A'],
        ['catalogue16', 'I'],
        ['granule', '0'],
        ['fat12', null],
        ['prodos', 'FC'],
      ] as const)
        letters += transcriptOf(bytes, filesystem, type)?.length ?? 0;
      return letters;
    },
  },
  {
    name: 'layouts',
    corpus: async () =>
      SHIPPED_LAYOUTS.map((layout) => new TextEncoder().encode(JSON.stringify(layout))),
    refusals: [SyntaxError],
    async parse(bytes) {
      return Object.keys(parseLayout(JSON.parse(text(bytes)))).length;
    },
  },
  {
    name: 'messages of the bench',
    corpus: async () => [
      new TextEncoder().encode(
        '{"id":1,"op":"drives"}\n{"id":2,"ok":true,"payload":4}\nabcd{"id":3}\n',
      ),
    ],
    refusals: [FramingError],
    async parse(bytes) {
      const reader = new FrameReader();
      let frames = 0;
      for (let at = 0; at < bytes.length; at += 700)
        frames += reader.push(bytes.subarray(at, at + 700)).length;
      return frames;
    },
  },
  // The slowest by far, and last: a short run comes to all others first.
  {
    name: 'readings',
    corpus: async () =>
      vectors('flux', /\.fsflux\.gz$/).flatMap((bytes) =>
        readContainer(bytes, null).tracks.slice(0, 2).map(encodeReading),
      ),
    async parse(bytes) {
      const { tracks, header } = readContainer(bytes, null);
      let sectors = 0;
      for (const reading of tracks.slice(0, 1)) {
        const decoder = new TrackDecoder({ tickHz: header?.tickHz ?? 24e6, rpm: 300 }, 'all');
        sectors += decoder.decode([reading], null, {}).sectors.length;
      }
      return sectors;
    },
  },
];
