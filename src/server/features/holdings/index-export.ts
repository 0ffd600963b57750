/**
 * The index of everything kept: every file of the newest copy of every medium, as CSV or lines of
 * JSON; streamed.
 */
import { and, asc, eq, gt, isNull } from 'drizzle-orm';
import type { Database } from '@/server/platform/db/database';
import { files, volumes } from '../copies/tables';
import { holdings } from './tables';
import { media } from '../media/tables';
import { tableDownload } from '@/server/platform/http/table-download';

const STEP = 2000;
const COLUMNS = [
  'medium',
  'title',
  'partition',
  'filesystem',
  'label',
  'path',
  'type',
  'bytes',
  'modified',
  'locked',
  'deleted',
  'recoverable',
  'inDoubt',
  'sha256',
  'inside',
] as const;

const INDEX_ROW = {
  id: files.id,
  medium: media.code,
  title: media.title,
  partition: volumes.partition,
  filesystem: volumes.filesystem,
  label: volumes.label,
  path: files.path,
  type: files.type,
  bytes: files.bytes,
  modified: files.modified,
  locked: files.locked,
  deleted: files.deleted,
  recoverable: files.recoverable,
  inDoubt: files.sectorsInDoubt,
  sha256: files.sha256,
  inside: volumes.inside,
};

async function* rowsOf(db: Database) {
  for (let after = 0; ;) {
    const rows = await db
      .select(INDEX_ROW)
      .from(files)
      .innerJoin(volumes, eq(volumes.id, files.volumeId))
      // Which copy of a medium is the newest stands in its row of the holdings.
      .innerJoin(holdings, eq(holdings.copyId, volumes.fairCopyId))
      .innerJoin(media, eq(media.id, holdings.mediumId))
      .where(and(isNull(volumes.view), eq(files.kind, 'file'), gt(files.id, after)))
      .orderBy(asc(files.id))
      .limit(STEP);
    yield* rows;
    if (rows.length < STEP) return;
    after = rows[rows.length - 1]!.id;
  }
}

export const indexExport = (db: Database, asJson: boolean): Response =>
  tableDownload('index', COLUMNS, rowsOf(db), asJson);
