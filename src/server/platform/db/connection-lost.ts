/**
 * Whether work failed because its connection to PostgreSQL went, and not by its own doing: then it
 * may be done once more.
 */
import { causesOf } from './causes';

/**
 * Closed by an administrator, a crash or a shutdown; classes 08 (PostgreSQL manual, appendix A);
 * and what the network says.
 */
const CODES = /^(57P0[1-3]|08\w{3}|ECONNRESET|ECONNREFUSED|EPIPE)$/;
/** The driver's own, which carry no code. */
const WORDS =
  /^(Connection terminated|Client has encountered a connection error|timeout exceeded when trying to connect)/;

export const isConnectionLost = (error: unknown): boolean =>
  causesOf(error).some(
    ({ code, message }) => CODES.test(String(code)) || WORDS.test(String(message)),
  );
