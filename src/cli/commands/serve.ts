/** `spindle serve`: images as folders that any desktop opens, through WebDAV, without a database. */
import { createServer } from 'node:http';
import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { sliceSource } from '@/core/bits/byte-source';
import type { FoundVolume } from '@/core/identify/found-volume';
import { identifyVolumes } from '@/core/identify/identify';
import { said } from '@/core/said';
import { soundsIn } from '@/core/sound/sounds-of';
import { UniqueNames } from '@/core/volume/unique-names';
import { davHandler } from '@/dav/handler';
import { entryFiles, sourceFile, type OfImage, type PlacedEntry } from '@/dav/image-tree';
import type { DavFolder, DavNode } from '@/dav/node';
import { soundFiles } from '@/dav/sound-files';
import { treeOf } from '@/dav/tree';
import { tell } from '@/messages/tell';
import { nodeDigester } from '@/node/digester';
import { filesToTake } from '../extract';
import { openImage } from '../open-image';
import { JobError, UsageError } from '../usage';

const PORT = 4728;
const HOST = '127.0.0.1';

type Opened = Awaited<ReturnType<typeof openImage>>;

/** A partition is a folder of its number. */
function placedIn(
  image: Opened,
  { volume, partition, offset, length }: FoundVolume,
): PlacedEntry[] {
  const source = sliceSource(image, offset, length);
  const folder = partition === null ? 'files' : `files/${partition}`;
  return filesToTake(volume).map(({ entry, place }) => ({
    ...{ place: `${folder}/${place}`, entry, volume: source },
  }));
}

async function imageFolder(path: string, name: string): Promise<DavFolder> {
  const image = await openImage(path);
  const { size, mtime, ino } = await stat(path);
  const of: OfImage = { tag: `${ino.toString(36)}-${size}-${mtime.getTime()}`, modified: mtime };
  const names = new UniqueNames();
  const own = sourceFile(names.pathOf(basename(path)), image, of);
  const { volumes } = await identifyVolumes(image);
  const placed = volumes.flatMap((found) => placedIn(image, found));
  const files = entryFiles(placed, names, of);
  const { sounding } = await soundsIn(image);
  const sounds = soundFiles(sounding, names, { of, digester: nodeDigester });
  return treeOf(name, mtime, [own, ...files, ...sounds]);
}

async function rootOf(paths: readonly string[]): Promise<DavFolder> {
  const names = new UniqueNames();
  const members = new Map<string, DavNode>();
  for (const path of paths) {
    const name = names.folderOf(basename(path));
    members.set(name, await imageFolder(path, name));
  }
  return {
    ...{ kind: 'folder', name: '', modified: new Date() },
    members: () => Promise.resolve(members),
  };
}

function portIn(text: string | undefined): number {
  const port = Number(text ?? PORT);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new UsageError(said('ofServing.noPort', { text: text ?? '' }));
  return port;
}

/** Until it is told to stop. */
export async function serveCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    ...{ args, allowPositionals: true },
    options: { port: { type: 'string' } },
  });
  if (positionals.length === 0) throw new UsageError(said('ofServing.nameImages'));
  const port = portIn(values.port);
  const root = await rootOf(positionals);
  const onError = (error: unknown) => process.stderr.write(`spindle: ${String(error)}\n`);
  const server = createServer(davHandler({ root: () => Promise.resolve(root), onError }));
  await new Promise<void>((resolve, reject) => {
    server.once('error', ({ message }) =>
      reject(new JobError(said('ofServing.portIsTaken', { port, message }))),
    );
    server.listen(port, HOST, resolve);
  });
  const address = server.address() as { port: number };
  const url = `http://${HOST}:${address.port}/`;
  process.stdout.write(`${tell(said('ofServing.serves', { url, images: positionals.length }))}\n`);
  await new Promise<void>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
  });
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
}
