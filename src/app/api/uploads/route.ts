/** Where uploads in parts begin (tus 1.0.0 with its creation extension), and the list of them. */
import { TUS, tusResponse } from '@/server/http/tus';
import { route } from '@/server/http/respond';
import { createUpload, listUploads, parseMetadata } from '@/server/services/uploads';

export const GET = route(({ db }) => listUploads(db));
export const OPTIONS = route(async () => tusResponse(204, TUS.abilities));
export const POST = route(async ({ db, request, operator }) => {
  const id = await createUpload(
    db,
    await operator(),
    Number(request.headers.get('upload-length') ?? NaN),
    parseMetadata(request.headers.get('upload-metadata')),
  );
  return tusResponse(201, { location: `/api/uploads/${id}` });
});
