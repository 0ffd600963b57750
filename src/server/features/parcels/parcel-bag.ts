/**
 * A parcel as a bag (BagIt 1.0, RFC 8493) in a tar (POSIX.1-2001 pax), made while it is sent: nothing
 * of it is held, every digest is worked out from the bytes that go, and the manifests that make it a
 * bag come last. What breaks off is no bag.
 */

import { pack, type Pack } from 'tar-stream';
import {
  BAG_ALGORITHMS,
  BAG_DECLARATION,
  bagInfo,
  manifestOf,
  payloadOxum,
  type BagFile,
} from '@/core/parcel/bag';
import { dayOf } from '@/core/description/day';
import { UniqueNames } from '@/core/volume/unique-names';
import type { Database } from '@/server/platform/db/database';
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';
import { PROGRAM_VERSION } from '@/server/platform/version';
import { mediaOfParcel } from './parcels';
import { parcelPage, type ShownMedium } from './parcel-page';
import { filesOfMedium } from './parcel-payload';
import { oneOf, type PayloadFile, type Sent } from './payload-file';
import type { parcels } from './tables';

type Parcel = typeof parcels.$inferSelect;

const MODE = 0o644;

/** What went, once all of it did. */
export interface SentBag {
  payload: BagFile[];
  manifestSha256: string;
}

/** One entry of the tar, written as far as whoever reads the tar takes it. */
class Entry {
  private readonly sink: ReturnType<Pack['entry']>;
  private readonly closed: Promise<void>;

  constructor(tar: Pack, header: Parameters<Pack['entry']>[0]) {
    this.sink = tar.entry(header);
    this.closed = new Promise((resolve) => void this.sink.once('close', () => resolve()));
    // What goes wrong is thrown where it is met; the tar is destroyed with it.
    this.sink.on('error', () => undefined);
  }

  /** Resolves when there is room for more. Throws where nobody takes it any more. */
  async write(part: Uint8Array): Promise<void> {
    if (part.length > 0 && !this.sink.write(part)) await this.reaches('drain');
    if (this.sink.destroyed) throw new Error('nobody takes it any more');
  }

  /** Resolves once all of it is in the tar. */
  async end(): Promise<void> {
    const finished = this.reaches('finish');
    this.sink.end(() => undefined);
    await finished;
  }

  private reaches(event: 'drain' | 'finish'): Promise<void> {
    const reached = new Promise<void>((resolve) => void this.sink.once(event, () => resolve()));
    return Promise.race([reached, this.closed]);
  }
}

class BagWriter {
  constructor(
    private readonly tar: Pack,
    /** The only folder at the top. */
    private readonly base: string,
    private readonly at: Date,
  ) {}

  /** Throws where it is shorter or longer than it was said to be. */
  async add({ path, bytes, stream }: Omit<PayloadFile, 'type' | 'part'>): Promise<BagFile> {
    const header = { name: `${this.base}/${path}`, size: bytes, mtime: this.at, mode: MODE };
    const entry = new Entry(this.tar, header);
    const hashes = BAG_ALGORITHMS.map((algorithm) => new ThreadedHash(algorithm));
    let length = 0;
    try {
      for await (const part of stream()) {
        length += part.length;
        if (length > bytes) throw new Error(`${path} has more than its ${bytes} bytes`);
        await Promise.all([entry.write(part), ...hashes.map((hash) => hash.update(part))]);
      }
      if (length < bytes) throw new Error(`${path} has fewer than its ${bytes} bytes`);
      await entry.end();
      const [sha256, sha512] = await Promise.all(hashes.map((hash) => hash.digest()));
      return { path, bytes, digests: { sha256: sha256!, sha512: sha512! } };
    } finally {
      for (const hash of hashes) hash.drop();
    }
  }

  addText(path: string, text: string): Promise<BagFile> {
    const bytes = new TextEncoder().encode(text);
    return this.add({ path, bytes: bytes.length, stream: () => oneOf(bytes) });
  }
}

/** All that lies in `data/`. */
async function writePayload(writer: BagWriter, db: Database, parcel: Parcel): Promise<BagFile[]> {
  const names = new UniqueNames();
  const shown: ShownMedium[] = [];
  const payload: BagFile[] = [];
  // Its name is nobody else's.
  const page = names.pathOf('index.html');
  for (const medium of await mediaOfParcel(db, parcel.id)) {
    const files = filesOfMedium(db, parcel, medium, names);
    const own: Sent[] = [];
    let next = await files.next();
    while (!next.done) {
      const { type, part, ...file } = next.value;
      const gone = await writer.add({ ...file, path: `data/${file.path}` });
      payload.push(gone);
      own.push({ ...gone, path: file.path, type, part });
      next = await files.next(own.at(-1)!);
    }
    shown.push({ medium, files: own });
  }
  payload.push(await writer.addText(`data/${page}`, parcelPage(parcel, shown)));
  return payload;
}

/** What tells of the bag and lists it. */
async function writeTags(
  writer: BagWriter,
  parcel: Parcel,
  { payload, packer }: { payload: readonly BagFile[]; packer: string },
): Promise<string> {
  const info = bagInfo([
    ['Bag-Software-Agent', `Frail Spindle ${PROGRAM_VERSION}`],
    ['Bagging-Date', dayOf(new Date())],
    ['Contact-Name', packer],
    ['External-Identifier', `parcel-${parcel.id}`],
    ['External-Description', parcel.title],
    ['Internal-Sender-Description', parcel.notes],
    ['Recipient', parcel.recipient],
    ['Payload-Oxum', payloadOxum(payload)],
  ]);
  const tags = [
    await writer.addText('bagit.txt', BAG_DECLARATION),
    await writer.addText('bag-info.txt', info),
  ];
  for (const algorithm of BAG_ALGORITHMS)
    tags.push(await writer.addText(`manifest-${algorithm}.txt`, manifestOf(payload, algorithm)));
  const manifest = tags.find(({ path }) => path === 'manifest-sha256.txt')!;
  for (const algorithm of BAG_ALGORITHMS)
    await writer.addText(`tagmanifest-${algorithm}.txt`, manifestOf(tags, algorithm));
  return manifest.digests.sha256;
}

interface Packed {
  /** Who packs it. */
  packer: string;
  /** Called once all of it went. */
  onSent(sent: SentBag): Promise<void>;
}

export async function* bagOf(
  db: Database,
  parcel: Parcel,
  { packer, onSent }: Packed,
): AsyncGenerator<Uint8Array> {
  const tar = pack();
  const writer = new BagWriter(tar, baseOf(parcel), new Date());
  const writing = (async () => {
    const payload = await writePayload(writer, db, parcel);
    const manifestSha256 = await writeTags(writer, parcel, { payload, packer });
    tar.finalize();
    return { payload, manifestSha256 };
  })();
  // Whoever reads is told, and gets no end that looks like one.
  writing.catch((error: Error) => tar.destroy(error));
  for await (const part of tar) yield part as Uint8Array;
  await onSent(await writing);
}

/** The bag's folder, which the tar is called after. */
export const baseOf = ({ id }: Parcel): string => `parcel-${id}`;
