/** Where uploads in parts begin (tus 1.0.0 with its creation extension), and the list of them. */
import { tusAbilities, tusResponse } from '@/server/platform/http/tus';
import { route } from '@/server/features/operators/route';
import {
  createUpload,
  listUploads,
  MAX_UPLOAD,
  parseMetadata,
} from '@/server/features/intake/uploads';

export const GET = route(({ db }) => listUploads(db));
export const OPTIONS = route(async () => tusAbilities(MAX_UPLOAD));
export const POST = route(async ({ db, request, operator }) => {
  const id = await createUpload(
    db,
    await operator(),
    Number(request.headers.get('upload-length') ?? NaN),
    parseMetadata(request.headers.get('upload-metadata')),
  );
  return tusResponse(201, { location: `/api/uploads/${id}` });
});
