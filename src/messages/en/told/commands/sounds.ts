/** What the command for sounds says. */
export const ofSounds = {
  holdsNoSounds: ({ path }: { path: string }) =>
    `${path} holds no volume of sounds that is known: \`spindle contents\` says what it is.`,
  volumeHolds: (its: { name: string; samples: number; programs: number }) =>
    `${its.name}: ${its.samples} samples, ${its.programs} programs`,
  sampleIs: (its: {
    path: string;
    seconds: string;
    rateHz: number;
    rateAssumed: boolean;
    loops: number;
  }) =>
    `${its.path}  ${its.seconds} s  ${its.rateHz} Hz${its.rateAssumed ? ' (assumed)' : ''}` +
    `${its.loops > 0 ? `  ${its.loops} ${its.loops === 1 ? 'loop' : 'loops'}` : ''}`,
  writtenTo: (its: { samples: number; ofFlac: boolean; programs: number; folder: string }) =>
    `${its.samples} ${its.ofFlac ? 'FLAC' : 'WAV'} and ${its.programs} SFZ written to ${its.folder}`,
  isNoRate: ({ rate }: { rate: string }) =>
    `${rate} is no rate: give whole hertz between 1 and 1,000,000`,
  putTakes: 'sound --put takes --wave and --rate with --bank only, --name with --volume only',
  flacNeedsOut: 'sound --flac needs --out',
  putNeeds: 'sound --put needs --to, and --bank or --volume',
  isNoWave: ({ wave }: { wave: string }) => `${wave} is no number of a wave`,
  cantBePut: ({ path, why }: { path: string; why: string }) =>
    `${path} can't be put there: ${why}. Nothing was written.`,
  ofTheSound: ({ path, what }: { path: string; what: string }) => `${path}: ${what}`,
  wasPutAs: (its: {
    path: string;
    sample: string;
    frames: number;
    isReplaced: boolean;
    out: string;
  }) =>
    `${its.path} is ${its.sample} (${its.frames} frames${its.isReplaced ? ', in the place of the one before' : ''}) ` +
    `in ${its.out}`,
  wasPut: (its: { path: string; bank: string; wave: number; frames: number; out: string }) =>
    `${its.path} is wave ${its.wave} of ${its.bank} (${its.frames} frames) in ${its.out}`,
};
