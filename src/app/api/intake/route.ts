import { route } from '@/server/http/respond';
import { UserError } from '@/server/errors';
import { INTAKE_LIMIT, takeIn } from '@/server/services/intake';

export const dynamic = 'force-dynamic';

const tooLarge = () => new UserError(`Files over ${INTAKE_LIMIT / 2 ** 20} MiB can't be taken in through this page. Nothing was stored.`, 413);

/** The body, given up as soon as it passes the limit. */
async function readLimited(body: ReadableStream<Uint8Array> | null): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let size = 0;
  const reader = body?.getReader();
  for (;;) {
    const { done, value } = (await reader?.read()) ?? { done: true as const, value: undefined };
    if (done || !value) break;
    size += value.length;
    if (size > INTAKE_LIMIT) {
      await reader?.cancel();
      throw tooLarge();
    }
    parts.push(value);
  }
  return new Uint8Array(Buffer.concat(parts));
}

export const POST = route(async ({ request, db, operator }) => {
  const { searchParams } = new URL(request.url);
  const name = (searchParams.get('name') ?? '').slice(0, 255) || 'unnamed';
  const who = await operator();
  if (Number(request.headers.get('content-length') ?? 0) > INTAKE_LIMIT) throw tooLarge();
  return takeIn(db, who, name, await readLimited(request.body), searchParams.get('code'));
});
