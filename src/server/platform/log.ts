/**
 * What happened, for whoever runs the application: a line of JSON each. Errors come with cause and
 * stack; of requests only who they were, never what they carried.
 */
import pino from 'pino';
import { config } from './config';

const shared = globalThis as { spindleLog?: pino.Logger };

/** Parameters of a failed query may be somebody's data: only its code and place are told. */
export function describeError(error: Error): object {
  const { name, stack, cause } = error;
  const code = (error as { code?: string }).code;
  // The mapper's errors carry query and parameters; PostgreSQL's own, with a severity, quote values.
  const isQuery = 'query' in error || 'params' in error || 'severity' in error;
  return {
    name,
    ...(code && { code }),
    message: isQuery ? 'a query failed' : error.message,
    stack: isQuery ? stack?.split('\n').filter((line) => /^\s+at /.test(line)) : stack?.split('\n'),
    ...(cause instanceof Error && { cause: describeError(cause) }),
  };
}

export function log(): pino.Logger {
  shared.spindleLog ??= pino(
    { level: config().SPINDLE_LOG, serializers: { err: describeError } },
    pino.destination({ fd: 2, sync: true }),
  );
  return shared.spindleLog;
}
