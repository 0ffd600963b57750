/** What is said of volumes of the family wavesample: problems, evidence, refusals. */
export const wavesample = {
  n80TracksOf: '80 tracks of 5 × 1024 + 512 bytes',
  itsSamplesLieAbout: ({ mean, leap }: { mean: number; leap: number }) =>
    `its samples lie about ${mean} and go on by ${leap} from one to the next`,
  wavesHaveNoNames: 'A wave has no name and no attributes: it is called by its place, “wave-3”.',
  hasSixBanks:
    'Such a floppy has its six banks and no other folders: a wave goes into one of them.',
  theImageEndsAfter: ({ source, wavesampleBytes }: { source: number; wavesampleBytes: number }) =>
    `The image ends after ${source} of ${wavesampleBytes} bytes: what lies beyond is not there.`,
};
