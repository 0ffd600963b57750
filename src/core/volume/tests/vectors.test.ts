/**
 * Every published volume vector: found, listed and read byte for byte; what is damaged is said,
 * what is sound is not spoken of.
 */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { loadExpectation, loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { identifyVolumes } from '../../identify/identify';
import { turnedBytes } from '../sixteen-sector-order';
import { parametersOf, ParametersFile } from '../cpm/parameters-file';
import { SHIPPED_LAYOUTS } from '../../layout/shipped';
import { isSafeName } from '../safe-name';
import type { VolumeEntry } from '../volume';

interface ExpectedFile {
  path: string;
  bytes: number;
  sha256: string;
  type?: string;
  locked?: boolean;
  modified?: string;
  deleted?: boolean;
  recoverable?: string;
  also?: string[];
  pathExact?: boolean;
  accept?: { bytes: number; sha256: string }[];
  optional?: boolean;
}
interface Expectation {
  case: string;
  image: string;
  filesystem: string;
  label?: string;
  freeBytes?: number;
  files: ExpectedFile[];
  damagedFiles?: string[];
  problems: string[];
  imageBytes?: number;
  diskParameters?: object;
  partitions?: { number: number; start: number }[];
}

const CASES = readdirSync(join(__dirname, '../../../../tests/vectors/volumes'))
  .filter((name) => name.endsWith('.expect.json.gz'))
  .map((name) => name.replace('.expect.json.gz', ''))
  // Sound FAT volumes have a test of their own, beside their code.
  .filter((name) => !name.startsWith('fat'));

function imageOf({ image, imageBytes }: Expectation): Uint8Array {
  const bytes = loadVector(`volumes/${image}`);
  if (!imageBytes) return bytes;
  const whole = new Uint8Array(imageBytes);
  whole.set(bytes);
  return whole;
}

interface Read {
  path: string;
  entry: VolumeEntry;
  bytes: number;
  sha256: string;
}

async function readAll(bytes: Uint8Array) {
  const { volumes, problems } = await identifyVolumes(memorySource(bytes));
  const files: Read[] = [];
  for (const { volume, partition } of volumes) {
    for (const entry of volume.entries) {
      if (entry.kind !== 'file' || entry.recoverable === 'none') continue;
      const data = await volume.read(entry);
      files.push({
        path: partition === null ? entry.path : `${partition}/${entry.path}`,
        entry,
        bytes: data.length,
        sha256: sha256Hex(data),
      });
    }
  }
  return {
    volumes,
    files,
    problems: [...problems, ...volumes.flatMap(({ volume }) => volume.problems)],
  };
}

test.each(CASES)('%s', async (name) => {
  const expected = loadExpectation<Expectation>(`volumes/${name}`);
  const { volumes, files, problems } = await readAll(imageOf(expected));
  if (expected.filesystem === 'mbr')
    expect(
      volumes.map(({ partition, offset }) => ({ number: partition, start: offset / 512 })),
    ).toEqual(expected.partitions);
  else {
    expect(volumes.map(({ volume }) => volume.filesystem)).toEqual([expected.filesystem]);
    if (expected.label !== undefined) expect(volumes[0]!.volume.label).toBe(expected.label);
    if (expected.freeBytes !== undefined)
      expect(volumes[0]!.volume.freeBytes).toBe(expected.freeBytes);
  }
  for (const file of expected.files) {
    const versions = [file, ...(file.accept ?? [])];
    const rightBytes = (each: Read) =>
      versions.some(({ bytes, sha256 }) => bytes === each.bytes && sha256 === each.sha256);
    const rightPath = ({ path }: Read) => path === file.path || file.also?.includes(path);
    if (file.recoverable === 'none') continue;
    const found = files.find((each) =>
      file.pathExact === false
        ? rightBytes(each)
        : rightPath(each) && rightBytes(each) && each.entry.deleted === Boolean(file.deleted),
    );
    if (!found && file.optional) continue;
    if (!found)
      throw new Error(
        `${file.path} of ${file.bytes} bytes is not among ${
          files
            .filter(rightPath)
            .map(({ path, bytes }) => `${path} (${bytes})`)
            .join(', ') || files.map(({ path, bytes }) => `${path} (${bytes})`).join(', ')
        }`,
      );
    const { entry } = found;
    if (file.modified !== undefined)
      expect([file.path, entry.modified]).toEqual([file.path, file.modified]);
    if (file.locked !== undefined)
      expect([file.path, entry.locked]).toEqual([file.path, file.locked]);
    if (file.type !== undefined && !file.deleted)
      expect([file.path, entry.type]).toEqual([file.path, file.type]);
    if (file.recoverable !== undefined)
      expect([file.path, entry.recoverable]).toEqual([file.path, file.recoverable]);
  }
  const kinds = new Set<string>(problems.map(({ kind }) => kind));
  if (expected.problems.length === 0) expect(problems).toEqual([]);
  else expect(expected.problems.filter((kind) => !kinds.has(kind))).toEqual([]);
  for (const { path } of files)
    for (const part of path.split('/')) expect([path, isSafeName(part)]).toEqual([path, true]);
  const live = files.filter(
    ({ entry }) =>
      !entry.deleted && !expected.damagedFiles?.some((hurt) => entry.path.includes(hurt)),
  ).length;
  expect(live).toBe(expected.files.filter(({ deleted }) => !deleted).length);
});

test.each(['cpm-8inch-img', 'cpm-dd-exm1-img'])(
  '%s is read alike with its parameter set given',
  async (name) => {
    const expected = loadExpectation<Expectation>(`volumes/${name}`);
    const cpm = parametersOf(ParametersFile.parse(expected.diskParameters), SHIPPED_LAYOUTS)!;
    const source = memorySource(imageOf(expected));
    const [given, worked] = await Promise.all([
      identifyVolumes(source, { cpm }),
      identifyVolumes(source),
    ]);
    expect(given.volumes[0]!.volume.entries).toEqual(worked.volumes[0]!.volume.entries);
  },
);

test('a catalogue in block order is read as what it is, although its first sector stands where it would in the other order', async () => {
  const image = loadVector('volumes/catalogue16-plain.do');
  const digests = async (bytes: Uint8Array) => {
    const { volumes } = await identifyVolumes(memorySource(bytes));
    return Promise.all(
      volumes[0]!.volume.entries.map(async (entry) => [
        entry.path,
        sha256Hex(await volumes[0]!.volume.read(entry)),
      ]),
    );
  };
  expect(await digests(turnedBytes(image))).toEqual(await digests(image));
});
