/** What is said of sounds: of samples and programs, and of what a file of today can't carry. */
export const sound = {
  liesBehindTheImage: ({ from, imageBytes }: { from: number; imageBytes: number }) =>
    `Byte ${from} lies behind the image, which has ${imageBytes} bytes.`,
  holdsFewerFrames: (its: { path: string; there: number; recorded: number }) =>
    `${its.path} says it has ${its.recorded} frames; its file holds ${its.there}.`,
  hasNoHeader: ({ path, bytes }: { path: string; bytes: number }) =>
    `${path} has ${bytes} bytes: that is no whole header of a sound.`,
  holdsFewerKeyGroups: (its: { path: string; there: number; counted: number }) =>
    `${its.path} counts ${its.counted} key groups; its file holds ${its.there}.`,
  isPlayedBeyondItself: (its: { path: string; start: number; end: number; frames: number }) =>
    `${its.path} is played from frame ${its.start} to ${its.end}; it has ${its.frames}.`,
  beginsOtherwise: ({ path, mark }: { path: string; mark: number }) =>
    `${path} begins with ${mark}, which is not the mark of its kind.`,
  keyGroupBeginsOtherwise: (its: { path: string; group: number; mark: number }) =>
    `${its.path}: key group ${its.group} begins with ${its.mark} and not with 2.`,
  isNotMarkedValid: ({ path }: { path: string }) => `${path} is not marked as valid.`,
  hasNoSuchRate: ({ path, code }: { path: string; code: number }) =>
    `${path} gives no rate in hertz, and ${code} is no code of one; 44,100 Hz is taken.`,
  hasNoSuchNote: ({ path, note }: { path: string; note: number }) =>
    `${path} gives its root note as ${note}; there are notes 0 to 127.`,
  hasNoSuchPlayback: ({ path, playback }: { path: string; playback: number }) =>
    `${path} gives its playback as ${playback}, which is not known.`,
  countsTooManyLoops: ({ path, counted }: { path: string; counted: number }) =>
    `${path} counts ${counted} loops; there is room for eight.`,
  loopLiesNowhere: (its: {
    path: string;
    loop: number;
    length: number;
    end: number;
    frames: number;
  }) =>
    `${its.path}: loop ${its.loop} of ${its.length} frames ends before frame ${its.end}; the sample ` +
    `has ${its.frames}. It is left out.`,
  sampleIsNotThere: ({ path, name }: { path: string; name: string }) =>
    `${path} plays ${name}, which its volume does not have.`,
  rangesAreNone: ({ path, count }: { path: string; count: number }) =>
    `${path}: ${count} zones have keys or velocities that are none.`,
  loopModesAreNone: ({ path, count }: { path: string; count: number }) =>
    `${path}: ${count} zones have a loop mode that is not known.`,

  // What a file of today can't carry.
  timedLoopIsApproximate: ({
    name,
    loop,
    timeMs,
  }: {
    name: string;
    loop: number;
    timeMs: number;
  }) => `${name}: loop ${loop} is played for ${timeMs} ms; a count of repeats stands for it`,
  playbackIsNotInWav: ({ playback }: { playback: string }) => `what a key let go does: ${playback}`,
  playedPartIsNotInWav: ({ start, end }: { start: number; end: number }) =>
    `that it is played from frame ${start} to ${end}`,
  pitchIsClamped: ({ name }: { name: string }) =>
    `${name}: its pitch lies outside notes 0 to 127 and is held there`,
  loopIsNotInProgram: ({ name, loop }: { name: string; loop: number }) =>
    `${name}: loop ${loop}; a region has one, the first that holds`,
  fineLoopIsSharp: ({ name, cents }: { name: string; cents: string }) =>
    `${name}: its loop has whole frames only and sounds ${cents} cents sharp`,
  playedPartIsNone: ({ name }: { name: string }) =>
    `${name}: its start and end lie outside its frames`,
  filterIsNotCarried: ({ name, filter }: { name: string; filter: number }) =>
    `${name}: filter ${filter}, in the machine's own units`,
  loudnessIsApproximate: ({ name, loudness }: { name: string; loudness: number }) =>
    `${name}: loudness ${loudness}, in the machine's own units; only its sign is sure`,
  regionIsLeftOut: ({ name, why }: { name: string; why: 'missing' | 'ranges' }) =>
    why === 'missing'
      ? `${name}: the volume has no such sample`
      : `${name}: a zone whose keys or velocities are none`,
  loopModeIsNotKnown: ({ name }: { name: string }) => `${name}: a loop mode that is not known`,
  machineSettings: "the machine's own filter, envelopes and modulation",

  // Of files of sound.
  isNoSound: 'it is no WAV, AIFF, 8SVX or AU',
  isNoWav: 'it is no WAV',
  isNoAiff: 'it is no AIFF',
  isNoSvx8: 'it is no 8SVX',
  isNoAu: 'it is no AU',
  compressionIsNotRead: ({ compression }: { compression: string }) =>
    `it is packed as ${compression}, which is not read`,
  formatIsCut: 'the description of its format is cut',
  hasNoFormat: 'it has no description of its format',
  hasNoData: 'it has no data',
  holdsNoFrame: 'it holds no frame',
  codingIsNotRead: ({ kind, bits }: { kind: number; bits: number }) =>
    `its coding ${kind} of ${bits} bits is not read`,
  channelsOrRateAreNone: ({ channels, rateHz }: { channels: number; rateHz: number }) =>
    `${channels} channels at ${rateHz} Hz can't be`,
  dataIsCut: ({ stated, there }: { stated: number; there: number }) =>
    `its data should have ${stated} bytes; ${there} are there`,
  lengthIsNotSaid: ({ there }: { there: number }) =>
    `it does not say how long it is; ${there} bytes are there`,
  alignIsOdd: ({ align, frameBytes }: { align: number; frameBytes: number }) =>
    `it says that a frame has ${align} bytes; it has ${frameBytes}`,
  loopsLieNowhere: ({ count }: { count: number }) => `${count} of its loops lie outside its frames`,

  flacIsNotThere:
    'FLAC is packed by the program flac, which is not on this machine: install it (a package of ' +
    'that name), or take the sounds out as WAV.',

  flacFailed: ({ why }: { why: string }) =>
    `The program flac could not pack a sound (${why}). Take the sounds out as WAV.`,

  // Of sounds that are put into a volume.
  isMixedToOne: ({ channels }: { channels: number }) =>
    `its ${channels} channels were mixed to one, as samples have them here`,
  rateIsSet: ({ code, rateHz }: { code: string; rateHz: number }) =>
    `Sounds of ${code} that do not say their rate are taken at ${rateHz} Hz`,
  tooManyToTakeOut: ({ most }: { most: number }) =>
    `More than ${most} sounds answer to that: ask for fewer, or take media out whole`,
  noSampleAnswers: 'No sample of a volume answers to that',
  isBroughtToRate: ({ from, to }: { from: number; to: number }) =>
    `it was brought from ${from} Hz to ${to} Hz`,
  wavesHaveNoLoops: 'its loops were left out: a bank says them for itself, and is left as it is',
  moreLoopsThanFit: ({ left }: { left: number }) =>
    `${left} of its loops were left out: a sample here has up to eight`,
  isNoSample: ({ path }: { path: string }) =>
    `${path} is there and is no sample: give another name, or remove it`,

  // Of sounds that are put into a bank.
  isNoWavesampleImage: ({ bytes }: { bytes: number }) =>
    `an image of a wavesample floppy has 450,560 bytes; this has ${bytes}`,
  thereIsNoBank: ({ bank, banks }: { bank: string; banks: string[] }) =>
    `there is no bank ${bank}; there are ${banks.join(', ')}`,
  bankHasNoSuchWave: ({ wave, waves }: { wave: number; waves: number }) =>
    `the bank has no wave ${wave}; it has ${waves}`,
  doesNotFit: ({ frames, room }: { frames: number; room: number }) =>
    `the sound has ${frames} frames at this rate; there is room for ${room}`,
};
