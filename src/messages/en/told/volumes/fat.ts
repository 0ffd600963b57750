/** What is said of volumes of the family fat: problems, evidence, refusals. */
import { grouped } from '@/core/text/grouped';

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
    `Copy ${copy} of the allocation table differs from the first at byte ${at}; the first was used.`,
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
