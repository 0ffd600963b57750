/** Failures that a person can do something about: what happened, what was kept, what to try. */

/** What a page does more about than to show the sentence. */
export type ErrorCode = 'choose-from-shelf' | 'head-wants-cleaning' | 'in-quarantine';

interface UserErrorOptions extends ErrorOptions {
  code?: ErrorCode;
}

export class UserError extends Error {
  readonly code: ErrorCode | null;

  /** `field` names the form field that the sentence belongs to, where there is one. */
  constructor(
    message: string,
    readonly status = 409,
    readonly field: string | null = null,
    options: UserErrorOptions = {},
  ) {
    super(message, options);
    this.code = options.code ?? null;
  }
}

export const notFound = (what: string) => new UserError(`There is no ${what}.`, 404);
export const treatItFirst = (code: string) =>
  new UserError(
    `${code} is not to be read before treatment. Take the mark off when it has been treated.`,
  );
