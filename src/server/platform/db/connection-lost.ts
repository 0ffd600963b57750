/**
 * Whether work failed because its connection to PostgreSQL went, and not by its own doing: then it
 * may be done once more.
 */

/**
 * Closed by an administrator, a crash or a shutdown; classes 08 (PostgreSQL manual, appendix A);
 * and what the network says.
 */
const CODES = /^(57P0[1-3]|08\w{3}|ECONNRESET|ECONNREFUSED|EPIPE)$/;
/** The driver's own, which carry no code. */
const WORDS =
  /^(Connection terminated|Client has encountered a connection error|timeout exceeded when trying to connect)/;

export function isConnectionLost(error: unknown): boolean {
  // The mapper wraps what the driver threw.
  for (
    let at = error as { code?: unknown; message?: unknown; cause?: unknown } | undefined, depth = 0;
    at && depth < 5;
    at = at.cause as typeof at, depth++
  ) {
    if (CODES.test(String(at.code)) || WORDS.test(String(at.message))) return true;
  }
  return false;
}
