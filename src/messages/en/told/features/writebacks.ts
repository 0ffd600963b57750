/** What the feature writebacks says: in errors, in the ledger, of work under way. */
import { grouped } from '@/core/text/grouped';

export const writebacks = {
  theImageNeedsBlocks: ({
    blocks,
    blockBytes,
    code,
    blocks2,
  }: {
    blocks: number;
    blockBytes: number;
    code: string;
    blocks2: number;
  }) =>
    `The image needs ${grouped(blocks)} blocks of ${blockBytes} bytes, and ` +
    `${code} has ${grouped(blocks2)}. Nothing was written; take a larger one.`,
  itHolds: ({ label, files }: { label: string | null; files: string[] }) =>
    `it holds ${label ?? 'data'}${files.length > 0 ? `, with ${files.join(', ')}` : ''}`,
  writtenAndReadBack: ({ written, blocks }: { written: number; blocks: number }) =>
    `Written and read back up to block ${grouped(written)} of ${grouped(blocks)}`,
  provedAllBlocksWere: ({ blocks, rest, code }: { blocks: number; rest: number; code: string }) =>
    `Proved: all ${grouped(blocks)} blocks were read back and are what was ` +
    `written.${rest > 0 ? ` The last ${grouped(rest)} blocks of ${code} were not touched.` : ''}`,
  to: ({ from, to }: { from: number; to: number }) => `${grouped(from)} to ${grouped(to)}`,
  notProvedOfBlocks: ({
    count,
    blocks,
    places,
    more,
    code,
  }: {
    count: number;
    blocks: number;
    places: string[];
    more: boolean;
    code: string;
  }) =>
    `Not proved: ${grouped(count)} of ${grouped(blocks)} blocks ` +
    `did not read back as written (block ${places.join(', ')}${more ? ' …' : ''}). Nothing ` +
    `is claimed of ${code}. Take a fresh one.`,
  blocksWere: ({ written }: { written: number }) => `${grouped(written)} blocks were`,
  stationIsEmptyPut: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} is empty. Put a blank in it first.`,
  inStationIsAn: ({ code, stationId }: { code: string; stationId: number }) =>
    `${code} in station ${stationId} is an original: it is never written. Put a blank in.`,
  thereIsNoFlux: 'There is no flux capture with this copy; only its image can be written.',
  aWriteBackAt: ({ stationId }: { stationId: number }) =>
    `A write-back at station ${stationId} waits for an answer. Give it first.`,
  theDriveOfStation: ({ stationId, code }: { stationId: number; code: string }) =>
    `The drive of station ${stationId} does not write. Put ${code} in another station.`,
  nothingWasWritten: ({ stops }: { stops: string[] }) => `${stops.join(' ')} Nothing was written.`,
  writeBackOfTo: ({
    code,
    isFlux,
    target,
    stationId,
  }: {
    code: string;
    isFlux: boolean;
    target: string;
    stationId: number;
  }) =>
    `Write-back of ${code}${isFlux ? ', as flux,' : ''} to ${target} at station ${stationId} started.`,
  thisDiscHasTracks:
    'This disc has tracks of sound: only its track of data could be written here, and that would be another disc.',
  aDiscTakesWhole: ({ imageBytes }: { imageBytes: number }) =>
    `A disc takes whole blocks of 2 048 bytes; the image has ${grouped(imageBytes)}.`,
  station: ({ stationId }: { stationId: number }) => `station ${stationId}`,
  sectorsOfThisImage: ({ doubt }: { doubt: number }) =>
    `${grouped(doubt)} ${doubt === 1 ? 'sector' : 'sectors'} of this image ` +
    `${doubt === 1 ? 'is' : 'are'} in doubt: zeros are written in ` +
    `${doubt === 1 ? 'its' : 'their'} place, and read back as sound.`,
  lookingAtAllOf: ({ code, code2 }: { code: string; code2: string }) =>
    `Looking at all of ${code}: so far it is what is kept as ${code2}`,
  writtenAndReadBackUp: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `Written and read back up to cylinder ${cylinder}, head ${head}`,
  tracksWere: ({ written }: { written: number }) =>
    `${written} ${written === 1 ? 'track was' : 'tracks were'}`,
  provedAllTracksWere: ({ all }: { all: number }) =>
    `Proved: all ${all} tracks were read back and every sector is what was written.`,
  notProvedOfTracks: ({
    unproved,
    all,
    places,
    more,
  }: {
    unproved: number;
    all: number;
    places: string;
    more: boolean;
  }) =>
    `Not proved: ${unproved} of ${all} tracks did not read back as written (cylinder and ` +
    `head ${places}${more ? ' …' : ''}). Nothing is claimed of this disk. Clean the head, ` +
    'and take a fresh blank.',
  theTracksLookedAt: ({
    sectors,
    label,
    files,
    more,
  }: {
    sectors: number;
    label: string;
    files: string[];
    more: boolean;
  }) =>
    `the tracks looked at hold ${sectors} sectors${label && ` of “${label}”`}` +
    (files.length > 0 ? `, with ${files.join(', ')}${more ? ' and others' : ''}` : '') +
    ', ' +
    'which are not kept here',
  isNoLongerIn: ({ code, id }: { code: string; id: number }) =>
    `${code} is no longer in station ${id}, or is no blank. Nothing more was written.`,
  theImageHasNo: 'The image has no layout that can be written.',
  moreWriteBacksWait: ({ count, stationId }: { count: number; stationId: number }) =>
    `${count} more ${count === 1 ? 'write-back waits' : 'write-backs wait'} for blanks at station ${stationId}.`,
  nothingWaitsForA: ({ stationId }: { stationId: number }) =>
    `Nothing waits for a blank at station ${stationId}.`,
  writebacksThatWaitedAt: ({ gone, stationId }: { gone: number; stationId: number }) =>
    `${gone} ${gone === 1 ? 'writeback' : 'writebacks'} that waited at station ${stationId} taken back.`,
  isNotBlankNothing: ({ code, what }: { code: string; what: string }) =>
    `${code} is not blank: ${what}. Nothing was written.`,
  writeBackTo: ({ code, now }: { code: string; now: string }) => `Write-back to ${code}: ${now}`,
  givenUpWrittenNothing: ({ written, code }: { written: string; code: string }) =>
    `Given up: ${written} written. Nothing is claimed of ${code}; what it was to be made from is as it was.`,
  writeBack: ({ id }: { id: number }) => `write-back ${id}`,
  thisWriteBackDoes: 'This write-back does not ask for anything.',
  typeToWriteOver: ({ code }: { code: string }) => `Type ${code} to write over what is on it.`,
  mayBeWrittenOver: ({ code }: { code: string }) => `${code} may be written over.`,
  thisWriteBackHas: 'This write-back has ended already.',
  givenUpNothingWas: 'Given up; nothing was written.',
  writeBackGivenUp: 'Write-back given up; nothing was written.',
  itWorks: 'it works',
  itDoesNotWork: 'it does not work',
  itIsNotGoing: 'it is not going to be tried',
  onlyAWriteBack: 'Only a write-back that was proved is tried in a machine.',
  triedInTheMachine: ({ outcomeWord, words }: { outcomeWord: string; words: string }) =>
    `Tried in the machine: ${outcomeWord}${words}`,
  writeBackHasNot: ({ id }: { id: number }) =>
    `Write-back ${id} has not ended: nothing is certified yet.`,
  theCertificateOfWrite: ({ id }: { id: number }) =>
    `The certificate of write-back ${id} is damaged in the store; it is not handed out.`,
};
