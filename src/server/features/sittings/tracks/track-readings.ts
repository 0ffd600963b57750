/**
 * Every reading of one track, as a small capture: what a page decodes for itself to show how its
 * sectors were settled.
 */
import { and, asc, eq, isNotNull, sql } from 'drizzle-orm';
import { ContainerWriter, type ContainerHeader } from '@/core/flux/container';
import { ContainerReader, readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { driveFacts } from '@/core/reading/decode/decode-capture';
import { joinCaptures, type Capture } from '@/core/reading/decode/join-captures';
import { nodeDigester } from '@/node/digester';
import { readBlob, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { fairCopies } from '../../copies/tables';
import { sittings, trackReadings } from '../tables';
import { notFound } from '@/server/platform/errors';
import { said } from '@/core/said';

/** Bytes in which a capture's header surely lies. */
const HEADER_BYTES = 4096;

/** The readings of one track in each sitting of a medium, in the order of the sittings. */
async function fromSittings(
  db: Database,
  mediumId: number,
  cylinder: number,
  head: number,
): Promise<Capture[]> {
  // Where drives of both kinds read it, a copy counts cylinders of the disk, not positions of the
  // head.
  const mixed =
    (
      await db
        .selectDistinct({ stepping: sittings.stepping })
        .from(sittings)
        .where(eq(sittings.mediumId, mediumId))
    ).length > 1;
  const rows = await db
    .select()
    .from(trackReadings)
    .innerJoin(sittings, eq(sittings.id, trackReadings.sittingId))
    .where(
      and(
        eq(sittings.mediumId, mediumId),
        isNotNull(sittings.captureBlob),
        eq(trackReadings.head, head),
        mixed
          ? sql`${trackReadings.cylinder} = ${cylinder} * ${sittings.stepping}`
          : eq(trackReadings.cylinder, cylinder),
      ),
    )
    .orderBy(asc(trackReadings.id));
  const captures = new Map<number, { header: Capture['header']; tracks: TrackReading[] }>();
  for (const {
    sittings: { id, captureBlob },
    track_readings: { offset, length },
  } of rows) {
    let capture = captures.get(id);
    if (!capture) {
      const parts: Uint8Array[] = [];
      for await (const part of streamBlob(db, captureBlob!, 0, HEADER_BYTES)) parts.push(part);
      captures.set(
        id,
        (capture = {
          header: readContainer(new Uint8Array(Buffer.concat(parts)), null).header,
          tracks: [],
        }),
      );
    }
    const { tracks } = capture;
    const reader = new ContainerReader(
      (reading) => tracks.push(mixed ? { ...reading, cylinder } : reading),
      null,
    );
    for await (const part of streamBlob(db, captureBlob!, offset, offset + length))
      reader.push(part);
    reader.end();
  }
  return [...captures.values()];
}

async function fromUpload(
  db: Database,
  blob: string,
  cylinder: number,
  head: number,
): Promise<Capture[]> {
  const { header, tracks } = readContainer(await readBlob(db, blob), null);
  return [
    {
      header,
      tracks: tracks.filter((reading) => reading.cylinder === cylinder && reading.head === head),
    },
  ];
}

/** The track's readings as `.fsflux`; passes of later sittings are further passes. */
export async function trackCapture(
  db: Database,
  copyId: number,
  cylinder: number,
  head: number,
): Promise<Uint8Array> {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, copyId));
  if (!copy?.captureBlob) throw notFound(said('sittings.captureWithThisCopy'));
  const captures =
    copy.source !== 'sitting'
      ? await fromUpload(db, copy.captureBlob, cylinder, head)
      : await fromSittings(db, copy.mediumId, cylinder, head);
  const { header, readings } = joinCaptures(captures);
  if (readings.length === 0)
    throw notFound(said('sittings.readingOfCylinderHead', { cylinder, head }));
  const writer = new ContainerWriter(nodeDigester);
  const own: ContainerHeader = {
    ...driveFacts(header, readings).drive,
    form: header?.form ?? '3.5',
    cylinders: header?.cylinders ?? 80,
    heads: header?.heads ?? 2,
  };
  return new Uint8Array(
    Buffer.concat([
      writer.header(own),
      ...readings.map((reading) => writer.reading(reading)),
      writer.trailer(),
    ]),
  );
}
