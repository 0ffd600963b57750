/** `spindle convert`: one image or capture, many, or a whole folder, from one kind to another. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { lstat, mkdir, readdir, stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { toHex } from '@/core/digester';
import { buildSidecar, type Sidecar } from '@/core/image/sidecar';
import { convertImage, lossesOfSectors, statusBytes } from '@/core/image/convert';
import { imageOrder } from '@/core/image/flat';
import { IMAGE_KINDS, kindsOf, writeKind, type ImageKind } from '@/core/image/kinds';
import { emptyTally } from '@/core/reading/grades';
import { nodeDigester } from '@/node/digester';
import { decodeFiles, layoutFrom, looksLikeCapture } from '../captures';
import { cantBeWrittenAs } from './decode';
import { captureOf } from './encode';
import { jsonText, readWhole, refuseExisting, writeNew } from '../files';
import { imageOf, type OpenOptions } from '../images';
import { JobError, tellLine, UsageError } from '../usage';

/** It can't be converted; which one it is says who asked. */
class Refusal extends JobError {}

type Target = ImageKind | 'fsflux';

interface Converted {
  pieces: Iterable<Uint8Array>;
  losses: string[];
  /** What is written beside it: always where something was lost, or came from a capture. */
  sidecar: Sidecar | null;
}

interface Options extends OpenOptions {
  to: Target;
  status: boolean;
  acceptLoss: boolean;
}

async function fromCapture(
  path: string,
  { to, layout, status, acceptLoss }: Options,
): Promise<Converted> {
  if (to === 'fsflux') throw new Refusal(said('ofImages.isACapture'));
  const { containers, decoded, sectors, image } = await decodeFiles([path], { layout });
  if (!image || !decoded.layout) throw new Refusal(said('ofImages.noLayoutFitsThis'));
  if (!kindsOf(decoded.layout).includes(to)) throw new Refusal(cantBeWrittenAs(decoded.layout, to));
  const losses = lossesOfSectors(sectors, image, decoded.strange).map(tell);
  const problems = containers.flatMap(({ summary }) => summary.problems);
  return {
    losses,
    pieces: [
      writeKind(
        { layout: decoded.layout, bytes: image.bytes, status: status ? statusBytes(image) : null },
        to,
        status,
      ),
    ],
    sidecar: buildSidecar(decoded.layout, image, sectors, problems, nodeDigester, tell, {
      stepping: decoded.stepping,
      strange: decoded.strange,
      acceptedLosses: acceptLoss ? losses : [],
      description: { 'converted from': basename(path) },
    }),
  };
}

/** A sidecar that only says what went missing: of an image there is nothing more to say. */
function sidecarOfLosses(
  path: string,
  layoutId: string,
  order: string,
  bytes: Uint8Array,
  losses: string[],
): Sidecar {
  return {
    format: 'frail-spindle-sidecar',
    version: 1,
    layout: layoutId,
    image: { bytes: bytes.length, sha256: toHex(nodeDigester.sha256(bytes)), order },
    tally: emptyTally(),
    filledIn: [],
    oddities: [],
    strange: [],
    apart: [],
    sectors: [],
    passes: [],
    problems: [],
    acceptedLosses: losses,
    description: { 'converted from': basename(path) },
  };
}

function fromImage(path: string, bytes: Uint8Array, options: Options): Converted {
  const { to, status } = options;
  const image = imageOf(path, bytes, options);
  if (to === 'fsflux') {
    if (!image.layout) throw new Refusal(said('ofImages.itsLayoutIsNotKnown'));
    const bad = image.status?.filter((each) => each !== 1).length ?? 0;
    const losses =
      bad > 0
        ? [tell(said('ofImages.laidDownAsIf', { what: said('image.thatSayWhyA', { bad }) }))]
        : [];
    return {
      losses,
      pieces: captureOf(image.layout, image.bytes, { revolutions: 2, tickHz: 24_000_000 }),
      sidecar:
        losses.length > 0
          ? sidecarOfLosses(path, image.layout.id, imageOrder(image.layout), image.bytes, losses)
          : null,
    };
  }
  const converted = convertImage(image, to, (each) => writeKind(each, to, status), status);
  if ('refusal' in converted) throw new Refusal(converted.refusal);
  const { bytes: out } = converted;
  const losses = converted.losses.map(tell);
  return {
    losses,
    pieces: [out],
    sidecar:
      losses.length > 0
        ? sidecarOfLosses(
            path,
            image.layout?.id ?? '',
            image.layout ? imageOrder(image.layout) : 'blocks',
            out,
            losses,
          )
        : null,
  };
}

async function convertOne(path: string, out: string, options: Options): Promise<string> {
  await refuseExisting(out);
  const bytes = await readWhole(path);
  const { pieces, losses, sidecar } = looksLikeCapture(bytes)
    ? await fromCapture(path, options)
    : fromImage(path, bytes, options);
  if (losses.length > 0 && !options.acceptLoss)
    throw new Refusal(said('ofImages.wouldLose', { kind: options.to, losses }));
  await writeNew(out, pieces);
  if (sidecar)
    await writeNew(`${out.slice(0, out.length - extname(out).length)}.sidecar.json`, [
      new TextEncoder().encode(jsonText(sidecar)),
    ]);
  return tell(said('ofImages.wasConverted', { path, out, losses }));
}

/** Files of the sources; of a folder those that lie straight in it, links left alone. */
async function filesOf(sources: readonly string[]): Promise<{ path: string; inFolder: boolean }[]> {
  const files: { path: string; inFolder: boolean }[] = [];
  for (const source of sources) {
    const info = await stat(source).catch(() => {
      throw new JobError(said('commands.isNotThere', { path: source }));
    });
    if (!info.isDirectory()) files.push({ path: source, inFolder: false });
    else
      for (const name of (await readdir(source)).sort())
        if ((await lstat(join(source, name))).isFile())
          files.push({ path: join(source, name), inFolder: true });
  }
  return files;
}

export async function convertCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      to: { type: 'string' },
      out: { type: 'string' },
      as: { type: 'string' },
      layout: { type: 'string' },
      status: { type: 'boolean' },
      'accept-loss': { type: 'boolean' },
    },
  });
  if (positionals.length === 0) throw new UsageError(said('ofImages.convertTakes'));
  const kinds = [...IMAGE_KINDS, 'fsflux'] as const;
  const to = kinds.find((kind) => kind === values.to);
  if (!to) throw new UsageError(said('ofImages.convertNeeds', { kinds }));
  const options: Options = {
    to,
    as: values.as,
    layout: values.layout ? await layoutFrom(values.layout) : null,
    status: values.status ?? false,
    acceptLoss: values['accept-loss'] ?? false,
  };
  const files = await filesOf(positionals);
  const [first] = files;
  if (files.length === 1 && !first!.inFolder) {
    const { path } = first!;
    return convertAlone(path, values.out ?? nameOf(path, to), options);
  }
  if (!values.out) throw new UsageError(said('ofImages.convertNeedsAFolder'));
  await mkdir(values.out, { recursive: true });
  return convertMany(files, values.out, options);
}

const nameOf = (path: string, to: string): string => `${basename(path, extname(path))}.${to}`;

async function convertAlone(path: string, out: string, options: Options): Promise<void> {
  try {
    process.stderr.write(`${await convertOne(path, out, options)}\n`);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    throw new JobError(said('commands.isAtFault', { path, what: error.said }));
  }
}

/** One that can't be converted does not keep the others back. */
async function convertMany(
  files: readonly { path: string }[],
  folder: string,
  options: Options,
): Promise<void> {
  let failed = 0;
  for (const { path } of files) {
    try {
      const out = join(folder, nameOf(path, options.to));
      process.stderr.write(`${await convertOne(path, out, options)}\n`);
    } catch (error) {
      if (!(error instanceof JobError)) throw error;
      failed++;
      tellLine(said('commands.wasLeft', { path, what: error.said }));
    }
  }
  tellLine(said('ofImages.filesConverted', { done: files.length - failed, all: files.length }));
  if (failed > 0 && failed === files.length)
    throw new JobError(said('ofImages.noneCouldBeConverted'));
}
