/** What the feature platform says: in errors, in the ledger, of work under way. */
import { grouped } from '@/core/text/grouped';
import { capital, inMib } from '../../words';

export const platform = {
  noRoomFor: ({ bytes, free }: { bytes: number; free: number }) =>
    `There is no room for ${inMib(bytes)} more: ${inMib(free)} are left on the disk that holds ` +
    'everything. Nothing was changed; free some of it, and try again.',
  pausedForRoom:
    'Paused: the disk that holds everything is nearly full. What was read is kept; once there is ' +
    'room again it goes on by itself.',
  theDiskIsFull:
    'The disk that holds everything is full. What was kept before stays; free some of it, and try ' +
    'again.',
  storeIsAway: 'The database does not answer. Nothing was changed: try again in a moment.',
  theRequestIsTooLarge: 'The request is larger than any that is answered. Nothing was changed.',
  textThatNoDatabase: "There are characters in it that can't be kept. Nothing was changed.",
  somethingThatNoField: 'A value in it fits no field that there is. Nothing was changed.',
  noForm: 'The request is no form that can be read. Nothing was changed.',
  theWorkerDied: ({ crashes }: { crashes: number }) =>
    `It was set aside: the process that did it died of it ${crashes} times.`,
  itBrokeOff: ({ message }: { message: string }) => `It broke off: ${message}`,
  checkTheCableAnd:
    'Check the cable and the power of the bench; it goes on by itself when it is back.',
  putTheSameDisk: 'Put the same disk back; it goes on by itself.',
  checkThatTheDisk: 'Check that the disk is in and the drive closed; it goes on by itself.',
  checkThatTheDiskTurns: 'Check that the disk turns; it goes on by itself.',
  takeTheWriteProtection:
    'Take the write protection off, if this is the right disk; it goes on by itself.',
  itGoesOnBy: 'It goes on by itself when the bench allows it.',
  checkInThisOrder:
    'Check, in this order: its power; both ends of the cable; that it is set as the only ' +
    'one on its cable (one master, one slave, never two of a kind); that it stands alone ' +
    'on the bus; a slower port or adapter. It goes on by itself when it is back.',
  giveItAMinute:
    'Give it a minute to come up; then check its power and its cable, and set its speed lower. It goes on by itself.',
  itStallsLeaveIt:
    'It stalls: leave it for some minutes, then switch it off and on; if it stalls again, ' +
    'put it alone on its cable and at a lower speed. It goes on by itself.',
  putTheSameDisc: 'Put the same disc back, or connect the same disk; it goes on by itself.',
  thereIsNo: ({ what }: { what: string }) => `There is no ${what}.`,
  isNotToBe: ({ code }: { code: string }) =>
    `${code} is not to be read before treatment. Take the mark off when it has been treated.`,
  filesOverMibCant: ({ limit }: { limit: number }) =>
    `Files over ${limit} MiB can't be taken in through this page. Nothing was stored.`,
  thePassphraseIsToo: ({ least }: { least: number }) =>
    `The passphrase is too short: ${least} characters at least. Nothing was handed out.`,
  filesWithBytesDo: ({ members, bytes }: { members: number; bytes: number }) =>
    `${grouped(members)} files with ${grouped(bytes)} bytes do not ` +
    'fit in one ZIP. Take them out in several parts.',
  thisTakesLongerThan:
    'This takes longer than two minutes and was stopped. Look at a part of the image.',
  thisApplicationAnswersOn: 'This application answers on this computer only.',
  requestsFromOtherSites: 'Requests from other sites are refused.',
  thereIsNoSuch: 'There is no such thing.',
  theDeviceSays: ({ message, advice }: { message: string; advice: string | null }) =>
    advice === null ? message : `${message} ${advice}`,
  otherLanguage: 'other language here',
  someFields: 'Some fields need another look.',
  noJson: 'The request is no JSON.',
  somethingWentWrong: ({ requestId }: { requestId: string }) =>
    'Something went wrong here; nothing that was read is lost. Try again, and look at the ' +
    `log for ${requestId} if it stays.`,
  suchFile: 'such file',
  suchMachine: 'such machine',
  suchFairCopy: 'such fair copy',
  medium: ({ code }: { code: string }) => `medium ${code}`,
  waitingForAWorker: 'Waiting for a worker',
  itHasEndedAlready: 'It has ended already.',
  goingOnWhereIt: 'Going on where it was',
  sitting: ({ id }: { id: number }) => `sitting ${id}`,
  storedBytesAreDamaged: ({ what, offset }: { what: string; offset: number }) =>
    `${capital(what)} is damaged: from byte ${grouped(offset)} on it is not what was kept. It was ` +
    'not handed out. Bring the database back from a backup, or read the medium again.',
  storedImageOf: ({ code }: { code: string }) => `the stored image of ${code}`,
  storedSidecarOf: ({ code }: { code: string }) => `the stored sidecar of ${code}`,
  storedCaptureOf: ({ code }: { code: string }) => `the stored capture of ${code}`,
  storedPaperOf: ({ name, code }: { name: string; code: string }) =>
    `the stored paper ${name} of ${code}`,
  storedExtract: ({ id }: { id: number }) => `the ZIP of extract ${id}`,
  storedUpload: ({ name }: { name: string }) => `what was taken in of ${name}`,
  storedBag: ({ name }: { name: string }) => `the bag ${name}, which was taken in`,
  whatIsStoredHere: 'what is stored here',
  stationHasNoDisk: ({ stationId, code }: { stationId: number; code: string }) =>
    `Station ${stationId} has no disk in its drive. Put ${code} in and try again.`,
};
