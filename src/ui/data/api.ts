/** Requests to the application's own routes; failures carry the sentence that the server gave. */
import type { ErrorCode } from '@/server/platform/errors';
import { say } from '@/messages';

export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly fields: Record<string, string> = {},
    readonly code: ErrorCode | null = null,
  ) {
    super(message);
  }
}

/** What went wrong in the words of the server: of its fields, where it named some. */
export function troubleOf(error: Error | null): string | null {
  const said = error instanceof ApiError ? [...new Set(Object.values(error.fields))] : [];
  return said.length > 0 ? said.join(' ') : (error?.message ?? null);
}

const UNREACHABLE = say.parts.theApplicationDoesNot;

async function take<T>(response: Response): Promise<T> {
  const body = await response.json().catch(() => ({}));
  if (response.ok) return body as T;
  const { error, code, field, fields } = body as {
    error?: string;
    code?: ErrorCode | null;
    field?: string | null;
    fields?: Record<string, string>;
  };
  throw new ApiError(
    error ?? UNREACHABLE,
    response.status,
    fields ?? (field && error ? { [field]: error } : {}),
    code ?? null,
  );
}

async function send<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError(UNREACHABLE, 0);
  }
  return take<T>(response);
}

export const get = <T>(path: string) => send<T>(path);
export const post = <T>(path: string, body: unknown) =>
  send<T>(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
export const remove = <T>(path: string) => send<T>(path, { method: 'DELETE' });
export const upload = <T>(path: string, file: Blob) =>
  send<T>(path, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: file,
  });

/** Whether the server refused for this reason. */
export const isRefusedFor = (error: unknown, code: ErrorCode): boolean =>
  error instanceof ApiError && error.code === code;
