/** Readings settled into an image, its sidecar and its grades; nothing is stored here. */
import { eq } from 'drizzle-orm';
import type { Doubts } from '@/core/block/image-doubts';
import { readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { buildSidecar } from '@/core/image/sidecar';
import { buildFlatImage } from '@/core/image/flat';
import { type Layout } from '@/core/layout/layout';
import type { Problem } from '@/core/problems';
import {
  allSectors,
  type CaptureDecode,
  type DecodeJob,
} from '@/core/reading/decode/decode-capture';
import { decodeTold, withToldTracks } from '@/core/reading/controller/controller-capture';
import type { ControllerTrack } from '@/core/reading/controller/controller-tracks';
import { joinCaptures } from '@/core/reading/decode/join-captures';
import { tallyOf, type Tally } from '@/core/reading/grades';
import { marksOf, type SectorMark } from '@/core/reading/sector-mark';
import type { ContainerHeader } from '@/core/flux/container';
import { isFloppy } from '@/core/medium-form';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { media } from '@/server/features/media/tables';
import { sittings, controllerTracks } from '@/server/features/sittings/tables';
import { decodeWorkers } from '@/server/platform/threads/decode-workers';
import { allLayouts } from '@/server/features/layouts/layouts';
import { settingsOf } from './track-overrides';
import { watchedDecode, type SettlingWatch } from './watched-decode';
import { asMadeSectors } from './verdicts';

export interface Settled {
  decoded: CaptureDecode;
  /** What the image follows: the layout that fits, or the one worked out from what is there. */
  layout: Layout;
  image: Uint8Array;
  sidecar: string;
  tally: Tally;
  problems: Problem[];
  surface: { cylinder: number; head: number; tries: number; sectors: SectorMark[] }[];
  /** Byte ranges of the image that no sound sector fills. */
  inDoubt: Doubts;
}

interface ToSettle {
  header: Partial<ContainerHeader> | null;
  readings: readonly TrackReading[];
  problems: Problem[];
  description: Record<string, string>;
  layouts: readonly Layout[];
  asMade: ReadonlySet<string>;
  settings?: DecodeJob['settings'];
  /** Of drives that deliver no flux. */
  controller?: readonly ControllerTrack[];
  watch: SettlingWatch;
}

/**
 * Settles readings into an image, on the decoding threads; null where next to nothing was found on
 * them.
 */
export async function settle({
  header,
  readings,
  problems,
  description,
  layouts,
  asMade,
  settings,
  controller = [],
  watch,
}: ToSettle): Promise<Settled | null> {
  const rpm = header?.rpm ?? DEFAULT_RPM;
  const options = { layouts, asMade, settings, workers: decodeWorkers() };
  const watched =
    readings.length > 0 ? await watchedDecode(header, readings, options, watch) : null;
  const decoded = watched
    ? withToldTracks(watched.decoded, controller, rpm)
    : decodeTold(controller, layouts, header?.form ?? null, rpm);
  const remarks = watched?.leftOut ? [...problems, notWeighed(watched.leftOut)] : problems;
  const layout = decoded.layout ?? decoded.proposal;
  if (!layout) return null;
  const stepping = steppingOf(decoded, layout);
  const sectors = allSectors({ ...decoded, layout, stepping });
  const flat = buildFlatImage(layout, sectors, { stepping });
  const firstOf = firstReadings(readings);
  const sidecar = buildSidecar(layout, flat, sectors, remarks, nodeDigester, tell, {
    description,
    stepping,
    strange: decoded.strange,
  });
  return {
    decoded,
    layout,
    image: flat.bytes,
    sidecar: `${JSON.stringify(sidecar, null, 1)}\n`,
    tally: tallyOf(sectors.map(({ grade }) => grade)),
    problems: remarks,
    surface: decoded.tracks.map((track) => ({
      cylinder: track.cylinder,
      head: track.head,
      tries: track.readings,
      sectors: marksOf(track, firstOf.get(track.cylinder * 2 + track.head), decoded.drive),
    })),
    inDoubt: {
      ranges: sidecar.filledIn.map(({ offset, length }) => ({ offset, length })),
      sectorBytes: null,
    },
  };
}

const steppingOf = (decoded: CaptureDecode, layout: Layout) =>
  decoded.layout ? decoded.stepping : layout.stepping === 'double' ? 2 : 1;

/** By track. */
function firstReadings(readings: readonly TrackReading[]): Map<number, TrackReading> {
  const firstOf = new Map<number, TrackReading>();
  for (const reading of readings)
    if (!firstOf.has(reading.cylinder * 2 + reading.head))
      firstOf.set(reading.cylinder * 2 + reading.head, reading);
  return firstOf;
}

const DEFAULT_RPM = 300;

const notWeighed = (tracks: number): Problem => ({
  kind: 'turns-not-weighed',
  said: said('copies.turnsWereNotWeighed', { tracks }),
  offset: null,
});

/**
 * All captures of a medium's sittings, read together, with what drives told that deliver no flux.
 */
export async function settleMedium(
  db: Executor,
  mediumId: number,
  description: Record<string, string>,
  watch: SettlingWatch,
): Promise<Settled | null> {
  const rows = await db
    .select()
    .from(sittings)
    .where(eq(sittings.mediumId, mediumId))
    .orderBy(sittings.id);
  const { containers, controller } = await readingsOf(rows, db);
  const { header, readings } = joinCaptures(containers);
  const problems = containers.flatMap((container) => container.problems);
  const [medium] = await db.select({ form: media.form }).from(media).where(eq(media.id, mediumId));
  const layouts = await allLayouts(db);
  return readings.length > 0 || controller.length > 0
    ? settle({
        header: header ?? { ...(isFloppy(medium!.form) && { form: medium!.form }) },
        readings,
        controller,
        problems,
        description,
        layouts,
        asMade: await asMadeSectors(db, mediumId),
        settings: await settingsOf(db, mediumId),
        watch,
      })
    : null;
}

async function readingsOf(rows: readonly (typeof sittings.$inferSelect)[], db: Executor) {
  const containers: ReturnType<typeof readContainer>[] = [];
  const controller: ControllerTrack[] = [];
  // In a drive with twice the cylinders every second position is a cylinder of the disk: where it
  // was read in both kinds, cylinders count.
  const mixed = new Set(rows.map(({ stepping }) => stepping)).size > 1;
  for (const { id, captureBlob, stepping } of rows) {
    const own = (
      await db
        .select()
        .from(controllerTracks)
        .where(eq(controllerTracks.sittingId, id))
        .orderBy(controllerTracks.id)
    ).map(({ controller: track, data }) => ({ ...track, data }));
    controller.push(...(mixed ? byCylinder(own, stepping) : own));
    if (!captureBlob) continue;
    const container = readContainer(await readBlob(db, captureBlob), nodeDigester);
    containers.push(
      mixed ? { ...container, tracks: byCylinder(container.tracks, stepping) } : container,
    );
  }
  return { containers, controller };
}

/**
 * Readings by cylinder of the disk instead of by head position; what lies between two cylinders is
 * left out.
 */
function byCylinder<T extends { cylinder: number }>(readings: readonly T[], stepping: 1 | 2): T[] {
  return readings
    .filter(({ cylinder }) => cylinder % stepping === 0)
    .map((reading) => ({ ...reading, cylinder: reading.cylinder / stepping }));
}
