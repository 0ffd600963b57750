/** What is said of volumes of the family fat: problems, evidence, refusals. */
import { grouped } from '@/core/text/grouped';

const hex = (value: number) => value.toString(16).toUpperCase();

export const fat = {
  theParameterBlockIs: 'the parameter block is consistent',
  mediaByteHFits: ({ media }: { media: string }) => `media byte ${media}h fits the size`,
  theTableStartsWith: 'the table starts with the media byte',
  ofRootEntriesLooked: ({ used }: { used: number }) =>
    `${used} of ${used} root entries looked at are well-formed`,
  theVolumeClaimsBytes: ({ claimed, source }: { claimed: number; source: number }) =>
    `The volume claims ${claimed} bytes, the image ends after ${source}: what lies beyond is not there.`,
  theVolumeClaimsClusters: ({ clusters, room }: { clusters: number; room: number }) =>
    `The volume claims ${clusters} clusters, its table has room for ${room}.`,
  copyOfTheAllocation: ({ copy, at }: { copy: number; at: number }) =>
    `Copy ${copy} of the allocation table differs from the first at byte ${at}.`,
  theTableThatWas: ({ copy }: { copy: number | null }) =>
    copy === null
      ? 'Each part of the allocation table is taken from the copy in which it can be one.'
      : `Copy ${copy} of the allocation table is read: the files agree with it best.`,
  theTablesFirstEntries: ({ first, second }: { first: number; second: number }) =>
    `The table's first two entries, which stand for no cluster, are ${hex(first)}h and ` +
    `${hex(second)}h: they are not what such a table begins with.`,
  theVolumeWasNot:
    'The volume was not closed cleanly, or errors were met when it was last used: so its table says.',
  theCopyOfTheBoot: 'a copy of the boot sector is consistent',
  tablesAndDirectoriesFit: 'tables and directories fit one of the possible layouts',
  theBootSectorIsLostCopy: 'The boot sector is no longer one; its copy was read.',
  theBootSectorIsLost:
    'The boot sector is no longer one: where tables, directory and files lie was worked out from ' +
    'what they hold.',
  longNamesHaveNo: ({ path, orphanedNames }: { path: string; orphanedNames: number }) =>
    `In ${path}, ${orphanedNames} long ${orphanedNames === 1 ? 'name belongs' : 'names belong'} ` +
    'to no entry.',
  theFolderDoesNotLead: ({ path }: { path: string }) =>
    `The folder ${path} does not begin with itself and the folder above it.`,
  entriesStandBehindThe: ({ path }: { path: string }) =>
    `In ${path}, entries stand behind what looks like its end, and the table has their clusters ` +
    'in use: they are listed.',
  aFolderHasLost: ({ path }: { path: string }) =>
    `A folder has lost its name: it is listed as ${path}.`,
  twoEntriesAreCalled: ({ path }: { path: string }) =>
    `Two entries are called ${path}; on its own system only the first can be opened.`,
  theRoot: 'the root',
  aNameInCant: ({ folder, name }: { folder: string; name: string }) =>
    `A name in ${folder} can't be used as it is on today's systems; it is listed as ${name}.`,
  theFolderStartsWhere: ({ path, owner }: { path: string; owner: string }) =>
    `The folder ${path} starts where ${owner} is; it is not entered again.`,
  theFolderLiesMore: ({ path, depth }: { path: string; depth: number }) =>
    `The folder ${path} lies more than ${depth} deep; it is not entered.`,
  theFolderDoesNot: ({ path }: { path: string }) =>
    `The folder ${path} does not hold directory entries.`,
  runsIntoFromThere: ({ name, owner }: { name: string; owner: string }) =>
    `${name} runs into ${owner}: from there on its bytes are not its own.`,
  theChainOfReturns: ({ name, clusters }: { name: string; clusters: number }) =>
    `The chain of ${name} returns to itself after ${clusters} clusters.`,
  theChainOfPoints: ({ name, last }: { name: string; last: number }) =>
    `The chain of ${name} points to cluster ${last}, which does not exist.`,
  theChainOfRuns: ({ name }: { name: string }) =>
    `The chain of ${name} runs into a cluster marked bad.`,
  hasASizeBut: ({ name }: { name: string }) => `${name} has a size but no clusters.`,
  theChainOfRunsInto: ({ name, clusters }: { name: string; clusters: number }) =>
    `The chain of ${name} runs into a free cluster after ${clusters} clusters.`,
  needsClustersItsChain: ({
    name,
    needed,
    clusters,
  }: {
    name: string;
    needed: number;
    clusters: number;
  }) => `${name} needs ${needed} clusters, its chain has ${clusters}.`,
  needsClustersItsChainHas: ({
    name,
    needed,
    clusters,
  }: {
    name: string;
    needed: number;
    clusters: number;
  }) => `${name} needs ${needed} clusters, its chain has ${clusters}; its size was believed.`,
  clustersAreMarkedIn: ({ lost }: { lost: number }) =>
    `${lost} clusters are marked in use but belong to no file.`,
  thisIsNoFat: 'This is no FAT12 or FAT16 volume.',
  itsTablesDiffer:
    "The copies of the volume's allocation table differ; it can't be written to before they agree.",
  theVolumeIsLarger: "The volume is larger than its image; it can't be written to.",
  cantStandInA: ({ wrong }: { wrong: string }) =>
    `“${wrong}” can't stand in a name here: capitals, digits and a few signs can.`,
  theRootDirectoryIs: ({ rootEntries }: { rootEntries: number }) =>
    `The root directory is full: it holds ${rootEntries} entries. Make room, or use a folder.`,
  aChainOfThis: "A chain of this volume comes back to itself; it can't be written to.",
  theVolumeHasNo: ({ count, free }: { count: number; free: number }) =>
    `The volume has no room: ${grouped(count)} bytes more are needed, ` +
    `${grouped(free)} are free.`,
  anotherFile: 'another file',
};
