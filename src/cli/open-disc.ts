/**
 * A raw disc image with its cue sheet: given by the sheet, or by an image that may have one beside
 * it.
 */
import { said } from '@/core/said';
import { readdir, readFile } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { memorySource, type ByteSource } from '@/core/bits/byte-source';
import { looksLikeCue, parseCue, type CueSheet } from '@/core/optical/cue';
import { alignedDisc } from '@/core/optical/aligned-source';
import { discWithoutSheet } from '@/core/optical/sheet-for-disc';
import { fileSource } from './files';
import { JobError } from './usage';

const MAX_SHEET_BYTES = 1 << 20;

export interface OpenDisc {
  sheet: CueSheet;
  sources: (ByteSource & { close(): Promise<void> })[];
  close(): Promise<void>;
}

async function asSheet(source: ByteSource): Promise<CueSheet | null> {
  if (source.size > MAX_SHEET_BYTES) return null;
  const text = new TextDecoder().decode(await source.read(0, source.size));
  if (!looksLikeCue(text)) return null;
  const sheet = parseCue(text);
  return sheet.tracks.length > 0 ? sheet : null;
}

/** Its files, from the sheet's own folder alone: a sheet may name anything. Case is not minded. */
async function openFiles(sheet: CueSheet, folder: string): Promise<OpenDisc['sources']> {
  const there = await readdir(folder);
  const sources: OpenDisc['sources'] = [];
  for (const { name } of sheet.files) {
    const wanted = basename(name.replaceAll('\\', '/'));
    const found =
      there.find((each) => each === wanted) ??
      there.find((each) => each.toLowerCase() === wanted.toLowerCase());
    if (!found) {
      for (const source of sources) await source.close();
      throw new JobError(
        said('ofDiscs.sheetNamesWhatIsNotThere', { name: JSON.stringify(wanted) }),
      );
    }
    sources.push(await fileSource(join(folder, found)));
  }
  return sources;
}

/** The disc that a path is part of; null where it is neither a sheet nor a raw image. */
export async function openDisc(path: string): Promise<OpenDisc | null> {
  const source = await fileSource(path);
  const closing = (sources: OpenDisc['sources']) => async () => {
    for (const each of sources) await each.close();
  };
  const own = await asSheet(source);
  if (own) {
    await source.close();
    const sources = await openFiles(own, dirname(path));
    return { ...(await alignedDisc(own, sources)), close: closing(sources) };
  }
  const beside = join(dirname(path), `${basename(path, extname(path))}.cue`);
  const text = beside === path ? null : await readFile(beside).catch(() => null);
  const sheet = text && text.length <= MAX_SHEET_BYTES ? await asSheet(memorySource(text)) : null;
  if (
    sheet &&
    sheet.files.length === 1 &&
    basename(sheet.files[0]!.name).toLowerCase() === basename(path).toLowerCase()
  )
    return { ...(await alignedDisc(sheet, [source])), close: closing([source]) };
  const made = await discWithoutSheet(source, basename(path));
  if (made) return { sheet: made.sheet, sources: [made.source], close: closing([source]) };
  await source.close();
  return null;
}
