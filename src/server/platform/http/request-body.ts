/** What a request asks for in its body: JSON or a form, limited, and of text that can be kept. */
import { said } from '@/core/said';
import { UserError } from '../errors';
import { limitedBody } from './limited-body';

/** Rules and layouts come as JSON; files do not. */
const MOST_JSON_BYTES = 32 << 20;
const MOST_FORM_BYTES = 1 << 20;

/** No value that means anything lies deeper. */
const DEEPEST = 64;

const tooLarge = () => new UserError(said('platform.theRequestIsTooLarge'), 413);
const noJson = () => new UserError(said('platform.noJson'), 400);

/** Whether the database keeps such text: it has no zeros, and no half of a pair of UTF-16. */
export const isKeepable = (text: string): boolean => !text.includes('\0') && text.isWellFormed();

function refuseUnkeepable(value: unknown, depth = 0): void {
  if (depth > DEEPEST) throw noJson();
  if (typeof value === 'string') {
    if (!isKeepable(value)) throw new UserError(said('platform.textThatNoDatabase'), 400);
  } else if (Array.isArray(value)) {
    for (const each of value) refuseUnkeepable(each, depth + 1);
  } else if (typeof value === 'object' && value !== null) {
    for (const [key, each] of Object.entries(value)) {
      refuseUnkeepable(key, depth + 1);
      refuseUnkeepable(each, depth + 1);
    }
  }
}

/** The JSON of a request. Throws UserError where it is none, too large, or can't be kept. */
export async function jsonOf(request: Request): Promise<unknown> {
  const bytes = await limitedBody(request, MOST_JSON_BYTES, tooLarge);
  const value = parsed(bytes);
  refuseUnkeepable(value);
  return value;
}

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw noJson();
  }
}

/** The fields of a small form. Throws UserError where it is none. */
export async function formOf(request: Request): Promise<FormData> {
  const bytes = await limitedBody(request, MOST_FORM_BYTES, tooLarge);
  const type = request.headers.get('content-type') ?? '';
  try {
    return await new Response(bytes as BodyInit, { headers: { 'content-type': type } }).formData();
  } catch {
    throw new UserError(said('platform.noForm'), 400);
  }
}
