/**
 * One upload in parts: how far it is, its next part, giving it up; `GET` says how its taking in
 * came out.
 */
import { tusResponse } from '@/server/platform/http/tus';
import { route } from '@/server/features/operators/route';
import { UserError, said } from '@/server/platform/errors';
import { appendPart } from '@/server/features/intake/append-part';
import { giveUpUpload, uploadOffset, uploadState } from '@/server/features/intake/uploads';

interface Params {
  id: string;
}

export const GET = route<Params>(({ db, params }) => uploadState(db, params.id));
export const HEAD = route<Params>(async ({ db, params }) => {
  const { offset, size } = await uploadOffset(db, params.id);
  return tusResponse(200, {
    'upload-offset': String(offset),
    'upload-length': String(size),
    'cache-control': 'no-store',
  });
});
export const PATCH = route<Params>(async ({ db, params, request, operator }) => {
  await operator();
  if (request.headers.get('content-type') !== 'application/offset+octet-stream')
    throw new UserError(said('requests.aPartIsApplication'), 415);
  const offset = Number(request.headers.get('upload-offset') ?? NaN);
  if (!Number.isSafeInteger(offset) || offset < 0)
    throw new UserError(said('requests.sayWhereThePart'), 400);
  return tusResponse(204, {
    'upload-offset': String(await appendPart(db, params.id, offset, request.body)),
  });
});
export const DELETE = route<Params>(async ({ db, params, operator }) => {
  await operator();
  await giveUpUpload(db, params.id);
  return tusResponse(204);
});
