/**
 * Takes files and whole folders into the holdings, one after the other, and tells how each came
 * out.
 */
import { ApiError } from '../../data/api';
import { uploadAtOnce, uploadInParts, type TakenIn } from '../../data/upload-parts';
import { keepOutgoing, ownedBy, sharedBy } from '../../media/outbox';
import { planFolder, type PlannedPaper } from './folder-plan';
import { inRequest, type Whose } from './whose';
import { say } from '@/messages';

export interface Intake {
  name: string;
  outcome: 'under-way' | 'taken-in' | 'refused';
  text: string;
}

export interface PathedFile {
  path: string;
  file: File;
}

/** Larger files go in parts. */
const IN_PARTS = 24 << 20;
const KINDS: Record<TakenIn['kind'], string> = {
  capture: say.holdings.aFluxCapture,
  image: say.holdings.aFlatImage,
  disc: say.holdings.aRawImageOf,
  bag: '',
};

/** A bag is told of in the words of whoever took it in: it is several media. */
const became = ({ code, kind, now }: TakenIn): string =>
  code === null ? now : say.holdings.as({ code, kind: KINDS[kind] });

const HEAD = 4096;
/** A folder may hold a whole disk by mistake. */
const MAX_FILES = 5000;

/** Every file below what was dropped, with its path. */
export async function filesDropped(items: DataTransferItemList): Promise<PathedFile[]> {
  const entries = [...items]
    .map((item) => item.webkitGetAsEntry())
    .filter((entry) => entry !== null);
  const found: PathedFile[] = [];
  const walk = async (entry: FileSystemEntry, folder: string): Promise<void> => {
    if (found.length > MAX_FILES) return;
    if (entry.isFile) {
      found.push({
        path: folder + entry.name,
        file: await new Promise<File>((resolve, reject) =>
          (entry as FileSystemFileEntry).file(resolve, reject),
        ),
      });
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    // A reader gives a hundred entries at a time, and none when it is at the end.
    for (;;) {
      const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
        reader.readEntries(resolve, reject),
      );
      if (some.length === 0) return;
      for (const each of some) await walk(each, `${folder}${entry.name}/`);
    }
  };
  for (const entry of entries) await walk(entry, '');
  return found;
}

type Tell = (text: string) => void;

/** Sends one file; large ones, and raw discs with their sheets, in parts. */
async function send(
  { path, file }: PathedFile,
  about: Record<string, string>,
  tell: Tell,
  signal?: AbortSignal,
): Promise<TakenIn> {
  return file.size <= IN_PARTS && !about.cue
    ? uploadAtOnce(file, { name: path, ...about }, tell)
    : uploadInParts(file, path, { about, tell, signal });
}

const stemOf = (path: string) => path.replace(/\.[^./]*$/, '').toLowerCase();
const isSheet = (path: string) => /\.cue$/i.test(path);

/** The text of the cue sheet that lies beside each image, by the image's path. */
async function sheetsBeside(files: readonly PathedFile[]): Promise<Map<string, string>> {
  const sheets = new Map<string, string>();
  for (const { path, file } of files) {
    if (!isSheet(path) || file.size > MAX_SHEET_BYTES) continue;
    for (const other of files)
      if (!isSheet(other.path) && stemOf(other.path) === stemOf(path))
        sheets.set(other.path, await file.text());
  }
  return sheets;
}
const MAX_SHEET_BYTES = 100_000;
const said = (error: unknown) => (error instanceof ApiError ? error.message : String(error));

/** Single files: each is an image or a capture. Gives the codes of those taken in. */
export async function takeInFiles(
  files: readonly File[],
  whose: Whose,
  tell: (intake: Intake) => void,
): Promise<string[]> {
  const codes: string[] = [];
  const sheets = await sheetsBeside(files.map((file) => ({ path: file.name, file })));
  for (const file of files) {
    // A sheet goes with its image.
    if (isSheet(file.name) && [...sheets.keys()].some((path) => stemOf(path) === stemOf(file.name)))
      continue;
    tell({
      name: file.name,
      outcome: 'under-way',
      text: say.holdings.bytes4({ file: file.size }),
    });
    const cue = sheets.get(file.name);
    try {
      const taken = await send(
        { path: file.name, file },
        { ...inRequest(whose), ...(cue && { cue }) },
        (text) => tell({ name: file.name, outcome: 'under-way', text }),
      );
      if (taken.code !== null) codes.push(taken.code);
      tell({ name: file.name, outcome: 'taken-in', text: became(taken) });
    } catch (error) {
      tell({ name: file.name, outcome: 'refused', text: said(error) });
    }
  }
  return codes;
}

interface FolderWatch {
  tell(intake: Intake): void;
  progress(done: number, of: number): void;
  signal: AbortSignal;
}

/**
 * A folder: images and captures with what their names and neighbours say. Stops between two files
 * when it is asked to.
 */
export async function takeInFolder(
  files: readonly PathedFile[],
  whose: Whose,
  { tell, progress, signal }: FolderWatch,
): Promise<void> {
  if (files.length > MAX_FILES)
    return tell({
      name: say.holdings.theFolder,
      outcome: 'refused',
      text: say.holdings.itHoldsMoreThan({ maxFiles: MAX_FILES }),
    });
  const byPath = new Map(files.map((each) => [each.path, each]));
  const heads = [];
  for (const { path, file } of files)
    heads.push({ path, head: new Uint8Array(await file.slice(0, HEAD).arrayBuffer()) });
  const { images, papers } = planFolder(heads);
  const codes = new Map<string, string>();
  const sheets = await sheetsBeside(files);
  const sets = new Set<string>();
  let done = 0;
  for (const { path, setName, setNumber } of images) {
    if (signal.aborted)
      return tell({
        name: say.holdings.theFolder,
        outcome: 'refused',
        text: say.holdings.stoppedAfterOfImages({ done, images: images.length }),
      });
    try {
      const taken = await send(
        byPath.get(path)!,
        {
          ...inRequest(whose),
          ...(setName && { set: setName, number: String(setNumber) }),
          ...(sheets.has(path) && { cue: sheets.get(path)! }),
        },
        (text) => tell({ name: path, outcome: 'under-way', text }),
        signal,
      );
      if (taken.code !== null) codes.set(path, taken.code);
      if (setName) sets.add(setName);
      tell({ name: path, outcome: 'taken-in', text: became(taken) });
    } catch (error) {
      tell({ name: path, outcome: 'refused', text: said(error) });
    }
    progress(++done, images.length);
  }
  await layPapersBeside(papers, byPath, codes, sets, tell);
}

async function layPapersBeside(
  papers: PlannedPaper[],
  byPath: Map<string, PathedFile>,
  codes: Map<string, string>,
  sets: Set<string>,
  tell: (intake: Intake) => void,
) {
  for (const { path, image, setName } of papers) {
    const file = new File([byPath.get(path)!.file], path.split('/').pop()!);
    const code = image === null ? undefined : codes.get(image);
    if (code) await keepOutgoing(ownedBy({ code }), [file]);
    else if (setName !== null && sets.has(setName))
      await keepOutgoing(sharedBy({ name: setName }), [file]);
    else {
      tell({
        name: path,
        outcome: 'refused',
        text: say.holdings.noImageLiesNear,
      });
      continue;
    }
    tell({
      name: path,
      outcome: 'taken-in',
      text: code ? say.holdings.laidBeside({ code }) : say.holdings.laidBesideTheSet({ setName }),
    });
  }
}
