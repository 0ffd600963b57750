import { changeFolder } from '@/server/features/folders/folders';
import { FolderChange } from '@/server/features/folders/new-folder';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route(async ({ request, db, operator }) =>
  changeFolder(db, await operator(), FolderChange.parse(await jsonOf(request))),
);
