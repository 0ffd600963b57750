/** An error and what is behind it: the mapper wraps what the driver threw. */

interface Cause {
  code?: unknown;
  message?: unknown;
  cause?: unknown;
}

const MOST = 5;

export function causesOf(error: unknown): Cause[] {
  const causes: Cause[] = [];
  for (let at = error as Cause | undefined; at && causes.length < MOST; at = at.cause as Cause)
    causes.push(at);
  return causes;
}
