/** Two rows that were to have the same where only one may (SQLSTATE 23505). */
const UNIQUE_VIOLATION = '23505';

export function isUniqueViolation(error: unknown): boolean {
  const { code, cause } = error as { code?: string; cause?: { code?: string } };
  return (code ?? cause?.code) === UNIQUE_VIOLATION;
}

/** What was free when it was looked for may be somebody else's by the time it is taken. */
export async function refuseTaken<T>(taking: PromiseLike<T>, refusal: () => Error): Promise<T> {
  try {
    return await taking;
  } catch (error) {
    throw isUniqueViolation(error) ? refusal() : error;
  }
}
