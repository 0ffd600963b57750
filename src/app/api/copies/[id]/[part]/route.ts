import { rowId, type RouteContext } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { protectedDownload } from '@/server/platform/http/protect';
import { copyPart } from '@/server/features/copies/downloads';
import { handOut, unlessHeld } from '@/server/features/rights/handing-out';
import { mediaOfCopies } from '@/server/features/rights/media-of';
import { formOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
type Context = RouteContext<{ id: string; part: string }>;

async function partOf(context: Context): Promise<Response> {
  const { params, db, request } = context;
  const { searchParams } = new URL(request.url);
  const id = rowId(params.id);
  const volumeId = searchParams.get('volume');
  const folder =
    volumeId === null
      ? null
      : { volumeId: rowId(volumeId), path: searchParams.get('folder') ?? '' };
  const files = searchParams.get('files');
  const isHeard = params.part === 'sound' && searchParams.has('through');
  const leave = isHeard ? unlessHeld : handOut;
  return leave(context, await mediaOfCopies(db, [id]), () =>
    copyPart(db, id, params.part, {
      kind: searchParams.get('kind'),
      acknowledgesQuarantine: searchParams.has('knowing'),
      folder,
      files: files === null ? null : new Set(files.split(',').map(rowId)),
      asText: searchParams.has('text'),
      headers: request.headers,
      track: searchParams.has('track') ? Number(searchParams.get('track')) : null,
      through: searchParams.has('through'),
      isDescribed: searchParams.has('described'),
      isDeEmphasised: searchParams.get('pre-emphasis') === 'out',
    }),
  );
}

export const GET = route<{ id: string; part: string }>(partOf);
/** The same under a passphrase: it stands in the body, so that no log keeps it. */
export const POST = route<{ id: string; part: string }>(async (context) => {
  await context.operator();
  const form = await formOf(context.request);
  return protectedDownload(await partOf(context), form);
});
