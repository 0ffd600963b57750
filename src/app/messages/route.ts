import { readFile } from 'node:fs/promises';
import { config } from '@/server/platform/config';
import { notFound, said } from '@/server/platform/errors';
import { script } from '@/server/platform/http/answers';
import { route } from '@/server/features/operators/route';

/** The messages of a language other than English, as the page loads them before its own code. */
export const GET = route(async () => {
  const { SPINDLE_MESSAGES: file } = config();
  if (file === '') throw notFound(said('platform.otherLanguage'));
  return script(await readFile(file));
});
