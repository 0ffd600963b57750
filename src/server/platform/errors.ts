/** Failures that a person can do something about: what happened, what was kept, what to try. */

export class UserError extends Error {
  /** `field` names the form field that the sentence belongs to, where there is one. */
  constructor(
    message: string,
    readonly status = 409,
    readonly field: string | null = null,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

export const notFound = (what: string) => new UserError(`There is no ${what}.`, 404);
export const treatItFirst = (code: string) =>
  new UserError(
    `${code} is not to be read before treatment. Take the mark off when it has been treated.`,
  );
