/** Route handlers that know who is at work: a name in a cookie, as there are no passwords. */
import { UserError } from '@/server/platform/errors';
import { routesFor } from '@/server/platform/http/respond';
import { OperatorName, operatorNamed } from './operators';
import { said } from '@/core/said';
import { nameBlobsBy } from '@/server/platform/blobs/blob-damage';
import { nameOfBlob } from '../fixity/blob-names';

// Every route is made here: what is damaged is said by its name.
nameBlobsBy(nameOfBlob);

export const OPERATOR_COOKIE = 'spindle-operator';

export function operatorName(cookies: string | null): string | null {
  const part = cookies?.split(/;\s*/).find((each) => each.startsWith(`${OPERATOR_COOKIE}=`));
  if (!part) return null;
  try {
    return OperatorName.parse(decodeURIComponent(part.slice(OPERATOR_COOKIE.length + 1)));
  } catch {
    return null;
  }
}

export const route = routesFor((db, request) => {
  const name = operatorName(request.headers.get('cookie'));
  if (!name) throw new UserError(said('operators.sayWhoIsAt'), 401);
  return operatorNamed(db, name);
});
