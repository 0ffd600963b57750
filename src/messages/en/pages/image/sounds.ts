/** What the page of sounds says. */
export const sounds = {
  title: ({ sounds, programs }: { sounds: number; programs: number }) =>
    `${sounds} ${sounds === 1 ? 'sound' : 'sounds'}` +
    `${programs > 0 ? ` and ${programs} ${programs === 1 ? 'program' : 'programs'}` : ''} on this medium`,
  lookingForSounds: 'Looking for sounds …',
  thereIsNoImage: 'There is no image yet',
  aSittingMakesThe: 'A sitting makes the first one; then what sounds on it can be heard here.',
  noneAreKnown:
    'Nothing on it is a sound in a form that is known here: samples of sampler volumes and wavesample ' +
    'floppies, tracks of sound, and WAV, AIFF, 8SVX and AU files.',
  sounds: 'Sounds',
  filesOfSound: 'Files of sound',
  tracksOfSound: 'Tracks of sound',
  track: ({ number, clock }: { number: number; clock: string }) => `Track ${number}, ${clock}`,
  withPreEmphasis: 'with pre-emphasis',
  takePreEmphasisOut:
    'Let the treble down again where it was lifted (pre-emphasis): of what is heard and of the WAV, ' +
    'not of what is kept',
  trackAsWav: ({ track }: { track: string }) => `${track}, as WAV`,
  program: ({ regions }: { regions: number }) =>
    `program · ${regions} ${regions === 1 ? 'zone' : 'zones'}`,
  programIs: ({ number, regions }: { number: number; regions: number }) =>
    `Program ${number + 1}, ${regions} ${regions === 1 ? 'zone' : 'zones'} of keys and velocities`,
  keysOf: ({ name }: { name: string }) => `Keys of ${name}`,
  howToPlay: ({ octave }: { octave: number }) =>
    `Click a key, lower for louder. Z to M play notes ${octave} to ${octave + 11}; [ and ] move them. ` +
    'Above: which keys play which sample; dashed: the volume does not have it.',
  lasting: ({ seconds }: { seconds: string }) => `${seconds} s`,
  looped: 'loop',
  odd: 'odd',
  waveOf: ({ name, frames }: { name: string; frames: string }) => `${name} over ${frames} frames`,
  seconds: ({ seconds }: { seconds: string }) => `${seconds} s`,
  frequencies: 'Frequencies of what is heard now',
  fromHz: ({ hertz }: { hertz: number }) => `${hertz} Hz`,
  toHalfTheRate: 'half the rate of the output',
  level: ({ decibels }: { decibels: string }) => `${decibels} dB`,
  silent: 'silent',
  play: 'Play',
  stop: 'Stop',
  loopedAsRecorded: 'Looped as recorded',
  playedOnce: 'Played once',
  canNotBeHeard: ({ why }: { why: string }) => `It can't be heard: ${why}`,
  rate: 'Rate',
  asIf: 'Play as if at',
  hertz: ({ rate }: { rate: string }) => `${rate} Hz`,
  assumed: 'assumed',
  frames: 'Frames',
  ofBits: ({ bits }: { bits: number }) => `${bits} bits each`,
  rootNote: 'Root note',
  note: ({ note, cents }: { note: number; cents: number }) =>
    `${note}${cents === 0 ? '' : `, tuned ${cents > 0 ? '+' : '−'}${Math.abs(cents)} cents`}`,
  loopNumber: ({ number }: { number: number }) => `Loop ${number}`,
  loopIs: (its: { start: string; end: string; hold: boolean; timeMs: number }) =>
    `frame ${its.start} up to ${its.end}, ${its.hold ? 'held' : `for ${its.timeMs} ms`}`,
  playedBy: 'Played by',
  noProgram: 'no program of its volume',
  zones: 'Zones',
  sample: 'Sample',
  keys: 'Keys',
  velocities: 'Velocities',
  pitch: 'Tuned',
  loop: 'Loop',
  range: ({ low, high }: { low: number; high: number }) =>
    low === high ? String(low) : `${low} to ${high}`,
  ofCents: ({ cents }: { cents: number }) => (cents === 0 ? 'not' : `${cents} cents`),
  loopModes: {
    'as-sample': 'as the sample',
    'loop-through-release': 'through release',
    'loop-until-release': 'until release',
    'no-loop': 'none',
    'to-the-end': 'none, to the end',
    unknown: 'not known',
  },
  notThere: 'not in the volume',
  sheetAsCsv: 'Sheet of them all, CSV',
  sheetAsJson: 'JSON',
  holdings: 'Holdings',
  soundsOnMedia: ({ sounds, media }: { sounds: string; media: string }) =>
    `${sounds} ${sounds === '1' ? 'sound' : 'sounds'} of volumes on ${media} ${media === '1' ? 'medium' : 'media'}`,
  noSoundAnswers: 'No sound answers to that: ask for less.',
  noSoundIsHeld:
    'No sampler volume or wavesample floppy is kept yet. Their sounds are listed here a moment after they are read or taken in.',
  amongTheOthersOf: ({ code, title }: { code: string; title: string }) =>
    `Among the others of ${code}, ${title}`,
  wordsAsked: 'A name, a volume, a code …   /',
  atLeastSeconds: 'Seconds, from',
  atMostSeconds: 'up to',
  anyRate: 'any',
  rateOf: ({ rate, sounds }: { rate: string; sounds: number }) => `${rate} Hz (${sounds})`,
  heldMoreThanOnce: 'Held more than once',
  allAgain: 'All sounds again',
  medium: 'Medium',
  volume: 'Volume',
  name: 'Name',
  length: 'Length',
  root: 'Root',
  held: 'Held',
  heldOnce: 'once',
  heldTimes: ({ held }: { held: number }) => (held > 99 ? 'over 99 times' : `${held} times`),
  moreSounds: 'More of them',
  takeThemOut: 'Take the sounds out',
  packedAsFlac: 'packed as FLAC',
};
