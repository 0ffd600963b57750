/** What the core says of its own accord, by the folder that says it: analysis. */
export const analysis = {
  noIndexPulseOn: ({ tracks, tracks2 }: { tracks: number; tracks2: number }) =>
    `No index pulse on ${tracks} of ${tracks2} tracks: check that the disk turns and its index sensor is clean.`,
  itTurnsTimesA: ({ mean, rpm }: { mean: string; rpm: number }) =>
    `It turns ${mean} times a minute instead of ${rpm}: set its speed, or change the belt.`,
  headReadsNoTrack: ({ head }: { head: number }) =>
    `Head ${head} reads no track whole: clean it; if that brings nothing, it is worn or out of line.`,
  headFailsOnCylinder: ({ head, failed }: { head: number; failed: string }) =>
    `Head ${head} fails on cylinder ${failed}: clean it, then check that it lies over its tracks.`,
  headReadsEveryTrack: ({ head, spread }: { head: number; spread: string }) =>
    `Head ${head} reads every track, but with transitions ${spread} % of a cell off: clean it.`,
  bothSpeedAndHeads: ({ mean, tracks }: { mean: string; tracks: number }) =>
    `Both speed and heads are as they should be: ${mean} turns a minute, every sector of ` +
    `${tracks} tracks read at once.`,
};
