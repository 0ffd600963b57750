/** Wrong usage and failed work, told apart by exit code. */
import type { Said } from '@/core/said';
import { tell } from '@/messages/tell';

class ToldError extends Error {
  constructor(
    readonly said: Said,
    options?: ErrorOptions,
  ) {
    super(tell(said), options);
  }
}

export class UsageError extends ToldError {}

/** The job could not be done; the message is a sentence for the person at the terminal. */
export class JobError extends ToldError {}

export const EXIT = Object.freeze({ done: 0, failed: 1, usage: 2, found: 3 });

/** What a person reads beside the output: a line each. */
export const tellLine = (what: Said): void => void process.stderr.write(`${tell(what)}\n`);
