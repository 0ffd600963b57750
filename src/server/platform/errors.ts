/** Failures that a person can do something about: what happened, what was kept, what to try. */
import { said, type Said } from '@/core/said';
import { tell } from '@/messages/tell';

/** What a page does more about than to show the sentence. */
export type ErrorCode = 'choose-from-shelf' | 'head-wants-cleaning' | 'in-quarantine';

interface UserErrorOptions extends ErrorOptions {
  code?: ErrorCode;
}

export class UserError extends Error {
  /** What a page branches on: what it is to do, or else what is said. */
  readonly code: string;

  /** `field` names the form field that the sentence belongs to, where there is one. */
  constructor(
    readonly said: Said,
    readonly status = 409,
    readonly field: string | null = null,
    options: UserErrorOptions = {},
  ) {
    super(tell(said), options);
    this.code = options.code ?? said.code;
  }
}

export const notFound = (what: Said) => new UserError(said('platform.thereIsNo', { what }), 404);
export const treatItFirst = (code: string) => new UserError(said('platform.isNotToBe', { code }));

export { said };

/** What stopped a job, as it was refused; of anything else, what `otherwise` makes of its message. */
export function saidOf(error: unknown, otherwise: (message: string) => Said): Said {
  if (error instanceof UserError) return error.said;
  // The mapper's own message is the whole statement; what the database said is behind it.
  const { message, cause } = error as Error;
  return otherwise(cause instanceof Error ? cause.message : message);
}
