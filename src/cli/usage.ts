/** Wrong usage and failed work, told apart by exit code. */

export class UsageError extends Error {}

/** The job could not be done; the message is a sentence for the person at the terminal. */
export class JobError extends Error {}

export const EXIT = Object.freeze({ done: 0, failed: 1, usage: 2 });

export const USAGE = `Usage:
  spindle decode CAPTURE.fsflux [--json FILE|-] [--image FILE] [--card FILE] [--keep-doubtful]
      Decodes a flux capture: sectors with grades, the flat image, its card.
  spindle contents IMAGE [--json FILE|-] [--extract DIR]
      Lists the volumes and files of a flat image; takes the files out into DIR.
`;
