/** The routes of the application as they are called: found, not known. */
import { readdirSync } from 'node:fs';
import { join, relative } from 'node:path';

const ROOT = join(__dirname, '..', '..', '..', 'src', 'app');
type Handler = (request: Request, context: { params: Promise<object> }) => Promise<Response>;

/** Every route of the application, `api/files/[id]`. */
export const ROUTES = readdirSync(ROOT, { recursive: true, encoding: 'utf8' })
  .filter((path) => /(^|\/)route\.ts$/.test(path))
  .map((path) => relative('.', path).replace(/\/route\.ts$/, ''));

/** What answers there; nothing where that is not answered. */
export const handlerOf = (route: string, method: 'GET' | 'POST' = 'GET'): Handler | undefined =>
  // eslint-disable-next-line @typescript-eslint/no-require-imports -- routes are found, not known
  (require(join(ROOT, route, 'route.ts')) as Partial<Record<typeof method, Handler>>)[method];
