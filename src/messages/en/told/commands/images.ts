/** What the commands say of images: of their kinds, their contents, and what turning them loses. */
export const ofImages = {
  thereIsNoKind: ({ kind, kinds }: { kind: string; kinds: string[] }) =>
    `there is no image kind ${kind}; there are ${kinds.join(', ')}`,
  convertTakes: 'convert takes images, captures or folders of them',
  convertNeeds: ({ kinds }: { kinds: string[] }) =>
    `convert needs --to and one of ${kinds.join(', ')}`,
  convertNeedsAFolder: 'converting more than one file needs --out FOLDER',
  indexTakesOneOutput: 'only one list can go to standard output',
  isNoImageOfThe: ({ path, bytes, layout }: { path: string; bytes: number; layout: string }) =>
    `${path} has ${bytes} bytes; that is no image of the layout ${layout}.`,
  cantBeOfKind: (its: { path: string; kind: string; bytes: number; kinds: string[] }) =>
    `${its.path} can't be of kind ${its.kind}: it has ${its.bytes} bytes and looks like ` +
    `${its.kinds.join(' or ')}.`,
  withTheLayout: ({ kind, layout }: { kind: string; layout: string }) =>
    `${kind} with the layout ${layout}`,
  isNoImage: ({ path, bytes }: { path: string; bytes: number }) =>
    `${path} is no image: its ${bytes} bytes are no whole number of sectors.`,
  mayBeAnyOf: ({ path, kinds }: { path: string; kinds: string[] }) =>
    `${path} may be ${kinds.join(' or ')}: nothing in it tells. Say which with --as.`,
  isACapture: 'it is a capture already',
  noLayoutFitsThis: 'no layout fits this capture',
  itsLayoutIsNotKnown: 'its layout is not known; give --layout',
  laidDownAsIf: ({ what }: { what: string }) => `${what}: it is laid down as if it had`,
  wouldLose: ({ kind, losses }: { kind: string; losses: string[] }) =>
    `as ${kind} it would lose ${losses.join('; ')}. Nothing was written; --accept-loss ` +
    'goes without and says so in the sidecar',
  wasConverted: ({ path, out, losses }: { path: string; out: string; losses: string[] }) =>
    `${path} → ${out}${losses.length > 0 ? `, without ${losses.join('; ')}` : ''}`,
  filesConverted: ({ done, all }: { done: number; all: number }) =>
    `${done} of ${all} files converted`,
  noneCouldBeConverted: 'None of the files could be converted.',
  isNoParameterSet: ({ path, why }: { path: string; why: string }) =>
    `${path} is no disk parameter set: ${why}.`,
  parametersNeed:
    'say the layout, or sectorBytes, sectorsPerTrack and tracks; a skew names every sector once',
  soundOf: ({ seconds, rateHz }: { seconds: string; rateHz: number }) =>
    `${seconds} s of sound at ${rateHz} Hz`,
  volumeHolds: ({ name, files, free }: { name: string; files: number; free: number }) =>
    `${name}: ${files} files, ${free} bytes free`,
  labelled: ({ filesystem, label }: { filesystem: string; label: string }) =>
    `${filesystem} “${label}”`,
  wasDeleted: ({ recoverable }: { recoverable: string }) => `(deleted, ${recoverable})`,
  sectorsInDoubt: ({ sectors }: { sectors: number }) => `sectors in doubt: ${sectors}`,
  isItselfAnImage: ({
    path,
    filesystem,
    files,
  }: {
    path: string;
    filesystem: string;
    files: number;
  }) => `${path} is itself an image: ${filesystem}, ${files} files; --inside opens it`,
  thereIsNoImageAt: ({ path }: { path: string }) => `There is no disk image at ${path} in it.`,
  thereAreOthersAt: ({ path, others }: { path: string; others: string[] }) =>
    `There is no disk image at ${path} in it. There is one at ${others.join(', ')}.`,
  filesWrittenTo: ({ count, folder }: { count: number; folder: string }) =>
    `${count} files written to ${folder}`,
  isInTheWay: ({ path }: { path: string }) => `${path} is in the way and no folder.`,
  wouldLeaveTheFolder: ({ path }: { path: string }) =>
    `${path} would leave the target folder; it was not written.`,
  extractIntoAnEmpty: ({ path }: { path: string }) =>
    `${path} exists already; extract into an empty folder.`,
  filesOnImages: ({ files, images }: { files: number; images: number }) =>
    `${files} files on ${images} images`,
  isAFluxContainer: 'it begins with the header of a flux container',
  isARawDisc: ({
    sectors,
    mode,
    isScrambled,
  }: {
    sectors: number;
    mode: number;
    isScrambled: boolean;
  }) =>
    `${sectors} sectors of 2,352 bytes with sync and header, mode ${mode}` +
    (isScrambled ? ', scrambled' : ''),
  whoseDataAre: ({ what, filesystem }: { what: string; filesystem: string }) =>
    `${what}; their data are ${filesystem}`,
  isPacked: ({ bytes, sha256 }: { bytes: number; sha256: string }) =>
    `gzip with an index of ours: ${bytes} bytes of content, SHA-256 ${sha256}`,
  isATable: ({ partitions }: { partitions: string[] }) =>
    `a table of ${partitions.length} partitions: ${partitions.join(', ')}`,
  partitionOfType: ({ number, type }: { number: number; type: string }) =>
    `${number} of type ${type}h`,
  isFoundToBe: (its: { path: string; filesystem: string; percent: number; reasons: string[] }) =>
    `${its.path}: ${its.filesystem}, ${its.percent} %: ${its.reasons.join('; ')}`,
  isNothingKnown: ({ path }: { path: string }) => `${path}: nothing that is known here`,
  orIs: ({ filesystem, percent }: { filesystem: string; percent: number }) =>
    `or ${filesystem}, ${percent} %`,
  scanTakes: 'scan takes images or folders',
  scanNeeds: 'scan needs --rules FILE, --strings or --find',
  searchTakesOne: '--strings and --find take one image',
  stringsTakes: '--strings takes the least length, from 2 to 4096',
  findTakes: '--find takes "a text" in quotes, or at least two bytes in hexadecimal, ?? for any',
  holdsNoRules: ({ path, problems }: { path: string; problems: string[] }) =>
    `${path} holds no usable rules:\n${problems.map((each) => `  ${each}`).join('\n')}`,
  findings: ({ found, images }: { found: number; images: number }) =>
    `${found} ${found === 1 ? 'finding' : 'findings'} in ${images} ` +
    (images === 1 ? 'image' : 'images'),
  foundAt: ({ path, name, place }: { path: string; name: string; place: string }) =>
    `${path}: ${name} at ${place}`,
  placeOf: ({ place, file }: { place: string; file: string }) => `${place} of ${file}`,
  standsOften: ({ path, rule, count }: { path: string; rule: string; count: number }) =>
    `${path}: ${rule} stands ${count} times; the first thousand are listed`,
  itStandsOften: ({ count }: { count: number }) =>
    `it stands ${count} times; the first thousand are listed`,
  onlyTheFirst: ({ most }: { most: number }) => `only the first ${most} are listed`,
};
