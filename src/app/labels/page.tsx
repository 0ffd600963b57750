import { inArray } from 'drizzle-orm';
import { sharedConnection } from '@/server/platform/db/database';
import { media } from '@/server/features/media/tables';
import { LabelSheet } from '@/ui/media/label-sheet';

export const dynamic = 'force-dynamic';

/** Most labels printed at once. */
const MOST = 500;

export default async function Labels({
  searchParams,
}: {
  searchParams: Promise<{ codes?: string }>;
}) {
  const codes = ((await searchParams).codes ?? '').split(',').filter(Boolean).slice(0, MOST);
  const rows =
    codes.length === 0
      ? []
      : await sharedConnection()
          .db.select({
            code: media.code,
            title: media.title,
            lot: media.lot,
            form: media.form,
            setName: media.setName,
            setNumber: media.setNumber,
          })
          .from(media)
          .where(inArray(media.code, codes));
  return <LabelSheet media={codes.flatMap((code) => rows.filter((row) => row.code === code))} />;
}
