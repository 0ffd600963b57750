/** The sounds of a fair copy on their way out: WAVs, instruments as SFZ, and what became of each. */
import { identifyVolumes } from '@/core/identify/identify';
import { framesOf } from '@/core/sound/sound';
import { soundsOf } from '@/core/sound/sounds-of';
import { TakingOut, type TakenProgram, type TakenSample } from '@/core/sound/taken-out';
import { tell } from '@/messages/tell';
import { nodeDigester } from '@/node/digester';
import { toHex } from '@/core/digester';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { ZipMember } from '@/server/platform/http/zip';
import type { OutgoingFiles } from '../copies/files-of-copy';
import type { fairCopies } from '../copies/tables';

interface ManifestEntry {
  file: string;
  path: string;
  name: string;
  pcmSha256?: string;
  notCarried: string[];
}

type Taken = TakenSample | TakenProgram;

async function allTaken(
  db: Executor,
  { imageBlob }: typeof fairCopies.$inferSelect,
): Promise<Taken[]> {
  const source = await blobSource(db, imageBlob);
  const { volumes } = await identifyVolumes(source);
  const takingOut = new TakingOut();
  const taken: Taken[] = [];
  for (const { volume, offset, length } of volumes) {
    const sounds = await soundsOf(volume, { imageBytes: Math.min(length, source.size - offset) });
    for (const folder of sounds?.folders ?? []) taken.push(...takingOut.filesOf(volume, folder));
  }
  return taken;
}

const bytesOf = (taken: Taken): number =>
  taken.kind === 'program'
    ? taken.text.length
    : taken.wav.head.length + taken.sample.frames * (taken.sample.bits / 8) + taken.wav.tail.length;

/** The bytes of one, whose entry in the manifest is complete behind its last. */
async function* piecesOf(taken: Taken, entry: ManifestEntry): AsyncGenerator<Uint8Array> {
  if (taken.kind === 'program') {
    yield new TextEncoder().encode(taken.text);
    return;
  }
  const hash = nodeDigester.sha256Stream();
  yield taken.wav.head;
  for await (const piece of framesOf(taken.volume, taken.sample)) {
    hash.update(piece);
    yield piece;
  }
  entry.pcmSha256 = toHex(hash.digest());
  yield taken.wav.tail;
}

export async function soundsOut(
  db: Executor,
  copy: typeof fairCopies.$inferSelect,
  code: string,
): Promise<OutgoingFiles> {
  const taken = await allTaken(db, copy);
  const files: ManifestEntry[] = [];
  async function* members(): AsyncGenerator<ZipMember> {
    for (const each of taken) {
      const { path, name, notCarried } = each;
      const file = `${code}/${each.file}`;
      const entry: ManifestEntry = { file, path, name, notCarried: notCarried.map(tell) };
      files.push(entry);
      yield { name: file, modified: null, bytes: piecesOf(each, entry) };
    }
  }
  return {
    count: taken.length,
    isAlone: false,
    mostMembers: taken.length,
    bytes: taken.reduce((sum, each) => sum + bytesOf(each), 0),
    members,
    manifest: { format: 'frail-spindle-extract', version: 1, medium: code, files },
  };
}
