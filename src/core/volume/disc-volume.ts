/**
 * A data disc with all of its directories: ISO 9660 plain, Joliet, Rock Ridge, and UDF; several may
 * list the same files.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { openIso9660, type DiscView } from './iso9660/read';
import { probeIso9660 } from './iso9660/descriptors';
import { openUdf } from './udf/read';
import { probeUdf } from './udf/probe';
import { recordedBytes, type Volume, type VolumeEntry } from './volume';
import { said, type Said } from '@/core/said';

/** Paths that are named where the two differ; the rest is counted. */
const NAMED = 4;

export const VIEW_NAMES = Object.freeze(['iso9660', 'joliet', 'rockridge', 'boot'] as const);
export type ViewName = (typeof VIEW_NAMES)[number];
/** Another directory of the same disc, beside the one that the volume lists. */
type VolumeView = Omit<DiscView, 'name'> & { name: ViewName };
interface DiscVolume extends Volume {
  readonly views: readonly VolumeView[];
}

export const viewsOf = (volume: Volume): readonly VolumeView[] =>
  (volume as Partial<DiscVolume>).views ?? [];

/** Below this a disc's other file system is not opened. */
const ENOUGH = 0.9;

export async function probeDisc(
  source: ByteSource,
): Promise<{ filesystem: 'iso9660' | 'udf'; confidence: number; reasons: Said[] } | null> {
  const [iso, udf] = [await probeIso9660(source), await probeUdf(source)];
  if (udf && udf.confidence >= ENOUGH)
    return {
      filesystem: 'udf',
      confidence: udf.confidence,
      reasons: [...udf.reasons, ...(iso ? [said('volume.anIso9660Volume')] : [])],
    };
  return iso ? { filesystem: 'iso9660', ...iso } : udf && { filesystem: 'udf', ...udf };
}

/** A file's bytes by their places: two directories list the same file where these are the same. */
const placeOf = (entry: Listed) => `${entry.extents[0]?.offset ?? -1}/${recordedBytes(entry)}`;
const filesOf = <T extends Listed>(entries: readonly T[]): T[] =>
  entries.filter(
    ({ kind, deleted, bytes, link }) =>
      kind === 'file' && !deleted && bytes > 0 && typeof link !== 'string',
  );

type Listed = Pick<VolumeEntry, 'kind' | 'deleted' | 'bytes' | 'packedBytes' | 'extents'> & {
  link?: string | null;
};

/**
 * Of directories of one disc, the files that none before them lists, each with what it is listed in.
 */
export function onlyInOthers<T extends Listed, V extends { entries: readonly T[] }>(
  first: readonly T[],
  others: readonly V[],
): { entry: T; view: V }[] {
  const known = new Set(filesOf(first).map(placeOf));
  return others.flatMap((view) => {
    const only = filesOf(view.entries).filter((entry) => !known.has(placeOf(entry)));
    for (const entry of only) known.add(placeOf(entry));
    return only.map((entry) => ({ entry, view }));
  });
}

/** Where in a folder of files taken out those stand that another directory alone lists. */
export const pathInView = (view: string, path: string): string => `other-views/${view}/${path}`;

/** What one file system of a bridge lists and the other does not. */
function bridgeDifferences(udf: readonly VolumeEntry[], iso: readonly VolumeEntry[]): Problem[] {
  const [here, there] = [new Set(filesOf(udf).map(placeOf)), new Set(filesOf(iso).map(placeOf))];
  const only = (entries: readonly VolumeEntry[], other: ReadonlySet<string>) =>
    filesOf(entries)
      .filter((entry) => !other.has(placeOf(entry)))
      .map(({ path }) => path);
  const [onlyUdf, onlyIso] = [only(udf, there), only(iso, here)];
  if (onlyUdf.length + onlyIso.length === 0) return [];
  return [
    {
      kind: 'bridge-differs',
      offset: null,
      said: said('volume.theDiscsTwoFile', {
        onlyUdf: onlyUdf.slice(0, NAMED),
        moreUdf: Math.max(0, onlyUdf.length - NAMED),
        onlyIso: onlyIso.slice(0, NAMED),
        moreIso: Math.max(0, onlyIso.length - NAMED),
      }),
    },
  ];
}

const USED_INSTEAD: Problem = Object.freeze({
  kind: 'bridge-differs',
  offset: null,
  said: said('volume.itsUdfIsHurt'),
});

/** Whether UDF is damaged and lists less than is there: then the other side is what people want. */
const isHurtMore = (udf: Volume, iso: Volume): boolean =>
  udf.problems.some(({ kind }) => kind === 'directory-damaged' || kind === 'descriptor-damaged') &&
  wholeFiles(udf) < wholeFiles(iso);

const wholeFiles = ({ entries }: Volume): number =>
  filesOf(entries).filter(({ damaged }) => !damaged).length;

export async function openDisc(
  source: ByteSource,
  filesystem: 'iso9660' | 'udf',
): Promise<DiscVolume> {
  if (filesystem === 'iso9660') return openIso9660(source);
  const udf = await openUdf(source);
  if (!(await probeIso9660(source))) return { ...udf, views: [] };
  const iso = await openIso9660(source);
  if (isHurtMore(udf, iso))
    return { ...iso, problems: [...udf.problems, ...iso.problems, USED_INSTEAD], views: iso.views };
  return {
    ...udf,
    problems: [...udf.problems, ...iso.problems, ...bridgeDifferences(udf.entries, iso.entries)],
    views: [{ name: 'iso9660', label: iso.label, entries: iso.entries }, ...iso.views],
  };
}

/**
 * The directory with the fullest names first, as people know the files; the others behind it. Of a
 * bridge that is UDF's own.
 */
export function directoriesOf(volume: Volume): {
  entries: readonly VolumeEntry[];
  others: readonly VolumeView[];
} {
  const views = viewsOf(volume);
  const best =
    volume.filesystem === 'iso9660'
      ? (views.find(({ name }) => name === 'rockridge') ??
        views.find(({ name }) => name === 'joliet'))
      : undefined;
  if (!best) return { entries: volume.entries, others: views };
  return {
    entries: best.entries,
    others: [
      { name: 'iso9660', label: volume.label, entries: volume.entries },
      ...views.filter((view) => view !== best),
    ],
  };
}
