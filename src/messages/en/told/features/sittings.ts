import { grouped } from '@/core/text/grouped';
import { capital, counted, ordinal } from '../../words';

/** Sectors by their numbers; in words where they are many, and in entries of an older form. */
const sectorsOf = (failed: string | number[]): string =>
  typeof failed === 'string'
    ? failed
    : `${failed.length > 1 ? 'sectors' : 'sector'} ${failed.join(', ')}`;

/** What the feature sittings says: in errors, in the ledger, of work under way. */
export const sittings = {
  stoppedByHand: 'Stopped by hand.',
  theDeviceSaysThat:
    'The device says that it has no blocks: nothing can be read of it. Check its power and cable, and that it came up.',
  theDeviceSaysThatIt: ({ blocks, blockBytes }: { blocks: number; blockBytes: number }) =>
    `The device says that it holds ${blocks} blocks of ${blockBytes} bytes, which is more than can be kept.`,
  anotherIsThereThan: ({ isDisk, now, serial }: { isDisk: boolean; now: string; serial: string }) =>
    `Another ${isDisk ? 'disk' : 'disc'} is there than this sitting began with (${now}${serial && `, ${serial}`}). ` +
    'Nothing was read of it; put the first one back and go on.',
  theDeviceSaysBlocks: ({
    name,
    blocks,
    blockBytes,
    health,
  }: {
    name: string[];
    blocks: number;
    blockBytes: number;
    health: string[];
  }) =>
    `The device says: ${name.join(', ')}; ${grouped(blocks)} blocks of ` +
    `${grouped(blockBytes)} bytes.${health.length > 0 ? ` Of its health: ${health.join(', ')}.` : ''}`,
  kindsFound: ({ partitions, kinds }: { partitions: number; kinds: string[] }) =>
    `${partitions > 0 ? `${counted(partitions, 'partition')}, ` : ''}${kinds.join(' and ')}`,
  noVolumeThatIs: 'no volume that is known',
  howFar: ({ about, what }: { about: string; what: string }) =>
    `${capital(about)}; ${what}: how far?`,
  itsOwnTablesShow: ({ what }: { what: string }) => `Its own tables show: ${what}.`,
  lookingAtItsOwn: 'Looking at its own tables',
  pausedBlocksAreKept: ({ firm }: { firm: number }) => `Paused; ${grouped(firm)} blocks are kept.`,
  pausedNothingWasRead: 'Paused; nothing was read yet.',
  settlingTheFairCopy: 'Settling the fair copy: digests, volumes, files',
  nothingCouldBeRead: ({ why }: { why: string }) =>
    `${why} Nothing could be read, so there is no fair copy.`,
  ofBlocksLeftWithout: ({ left }: { left: number }) =>
    `${counted(left, 'stretch', 'stretches')} of blocks left without sound bytes.`,
  block: ({ block }: { block: number }) => `Block ${grouped(block)}`,
  moreReadForThe: ({
    from,
    to,
    gained,
    pass,
  }: {
    from: number;
    to: number;
    gained: number;
    pass: number;
  }) =>
    (from === to ? `Block ${grouped(from)}` : `Blocks ${grouped(from)} to ${grouped(to)}`) +
    ': ' +
    `${gained} more read, for the ${ordinal(pass)} time of asking.`,
  aBlockOfTo: ({ from, to }: { from: number; to: number }) =>
    `A block of ${grouped(from)} to ${grouped(to)}`,
  whatIsHardHere: ({ where, isLate }: { where: string; isLate: boolean }) =>
    `${where} ${isLate ? 'gave no answer in time' : 'could not be read'}: what is hard here comes later.`,
  beforeAfter: ({ name, was, value }: { name: string; was: number; value: number }) =>
    `${name} ${was} before, ${value} after`,
  healthOfTheDrive: ({ changed }: { changed: string[] }) =>
    `Health of the drive: ${changed.join('; ')}.`,
  healthOfTheDriveAs: 'Health of the drive: as before.',
  thisSittingDoesNot: 'This sitting does not ask how far to read.',
  fromAndToLeave: 'From and to leave nothing to read.',
  theDeviceHasBlocks: ({ blocks, to }: { blocks: number; to: number }) =>
    `The device has ${grouped(blocks)} blocks, not ${grouped(to)}.`,
  toBeReadBlocks: ({ from, to, to2 }: { from: number; to: number; to2: number }) =>
    `To be read: blocks ${grouped(from)} to ${grouped(to)}, ${grouped(to2)} bytes.`,
  theFirstTracksShow: ({ shows }: { shows: string }) => `The first tracks show ${shows}.`,
  theHeadOfStation: ({ stationId, readWell }: { stationId: number; readWell: number | null }) =>
    `The head of station ${stationId} looks dirty: tracks fail one after the other` +
    (readWell === null ? '' : `, and cylinder ${readWell}, which read well before, fails now`) +
    '. ' +
    'Take the disk out, clean the head, put the disk back, and say so.',
  tracksFailOneAfter: ({ cylinder }: { cylinder: number }) =>
    `Tracks fail one after the other, but cylinder ${cylinder} reads as well as before: it is the disk, not the head.`,
  pausedTracksAreKept: ({ progress }: { progress: number }) =>
    `Paused; ${progress} tracks are kept.`,
  nothingIsSettled: 'Nothing of this sitting is being settled now.',
  settlingTheFairCopyFrom: 'Settling the fair copy from every reading',
  noSectorOfAny: ({ why }: { why: string }) =>
    `${why} No sector of any kind was found, so there is no fair copy; the capture is kept.`,
  sectors: ({ numbers }: { numbers: number }) => `${numbers} sectors`,
  cylinderHead: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `Cylinder ${cylinder}, head ${head}`,
  notReadWithA: ({ place, failed }: { place: string; failed: string | number[] }) =>
    `${place}: ${sectorsOf(failed)} not read with a right check.`,
  everySectorSoundAt: ({ place, tries }: { place: string; tries: number }) =>
    `${place}: every sector sound at the ${ordinal(tries)} reading.`,
  moreSoundStillNot: ({
    place,
    unsound,
    failed,
  }: {
    place: string;
    unsound: number;
    failed: string | number[];
  }) => `${place}: ${unsound} more sound, ${sectorsOf(failed)} still not.`,
  stationIsEmptyPut: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} is empty. Put a medium in it first.`,
  stationHasASitting: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} has a sitting already. Go on with it, or stop it; what was read is kept.`,
  takeOutCleanThe: ({ due, code, stationId }: { due: string; code: string; stationId: number }) =>
    `${due} Take ${code} out, clean the head of station ${stationId}, and say so; or read it all the same.`,
  blockByBlock: 'block by block',
  turnsATrack: ({ revolutions, isInward }: { revolutions: number; isInward: boolean }) =>
    `${counted(revolutions, 'turn')} a track, ${isInward ? 'outermost to innermost' : 'innermost to outermost'}`,
  sittingStartedAtStation: ({
    code,
    stationId,
    how,
    isGentle,
    isUncleaned,
  }: {
    code: string;
    stationId: number;
    how: string;
    isGentle: boolean;
    isUncleaned: boolean;
  }) =>
    `Sitting started: ${code} at station ${stationId}, ${how}${isGentle ? ', gently' : ''}` +
    `${isUncleaned ? ', with a head that wants cleaning' : ''}.`,
  thisSittingIsNot: 'This sitting is not running.',
  thisSittingHasEnded: 'This sitting has ended.',
  sayHowFarTo: 'Say how far to read first.',
  settlingWhatWasRead: 'Settling what was read',
  stoppedByHandWhat: 'Stopped by hand; what was read is kept.',
  goneOn: 'Gone on.',
  goneOnWithRoom: 'Gone on by itself: there is room on the disk again.',
  theDriveReachesPosition: ({ last, to }: { last: number; to: number }) =>
    `The drive reaches position ${last}, not ${to}.`,
  toBeReadPositions: ({
    from,
    to,
    step,
    heads,
  }: {
    from: number;
    to: number;
    step: number;
    heads: string[];
  }) =>
    `To be read: positions ${from} to ${to}${step === 2 ? ', every second' : ''}, ` +
    `${heads.length === 1 ? `head ${heads[0]}` : 'both heads'}.`,
  aStackIsBeing: ({ stationId }: { stationId: number }) =>
    `A stack is being read at station ${stationId}. End it first; what was read is kept.`,
  aMediumStandsTwice: 'A medium stands twice in the stack.',
  aStackOfBegun: ({
    codes,
    stationId,
    code,
    code2,
  }: {
    codes: number;
    stationId: number;
    code: string | undefined;
    code2: string | undefined;
  }) => `A stack of ${codes} begun at station ${stationId}: ${code} to ${code2}.`,
  noStackIsBeing: ({ stationId }: { stationId: number }) =>
    `No stack is being read at station ${stationId}.`,
  theStackAtStation: ({
    stationId,
    begun,
    codes,
  }: {
    stationId: number;
    begun: number;
    codes: number;
  }) => `The stack at station ${stationId} ended by hand: ${begun} of ${codes} begun.`,
  captureWithThisCopy: 'capture with this copy',
  readingOfCylinderHead: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `reading of cylinder ${cylinder}, head ${head}`,
};
