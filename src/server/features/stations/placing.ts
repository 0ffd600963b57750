/** Media go into stations' drives and come out of them. */
import { eq } from 'drizzle-orm';
import type { BenchClient } from '@/benchlink/client';
import { DeviceError } from '@/benchlink/messages';

import { formName, isBlockForm } from '@/core/medium-form';
import type { Database, Executor } from '@/server/platform/db/database';
import { refuseWithdrawn } from '../media/in-use';
import { heldMedium } from '../media/media';
import { media } from '../media/tables';
import { refuseOut } from '../receipts/whereabouts';
import { stations } from './tables';
import { UserError, treatItFirst } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { startQueued } from '../writebacks/writeback-queue';
import { lockStation, refuseWhileBusy } from './station-use';
import { withDrive } from './drive-hands';
import { noteConfirmed } from './scanned-labels';
import { asWritten, said } from '@/core/said';

interface PlaceOptions {
  /** The disk of a simulated shelf that stands for it, where that has another name. */
  shelfLabel?: string;
  /** Its label was scanned at the drive: that it is the one is confirmed with it. */
  scanned?: boolean;
}

/**
 * Notes that a medium is in a station's drive. At a simulated bench its hand puts it there: the
 * disk from the shelf
 * that carries the medium's code, or the one that `shelfLabel` names.
 */
export async function placeMedium(
  db: Database,
  operatorId: number,
  stationId: number,
  code: string,
  { shelfLabel, scanned = false }: PlaceOptions = {},
): Promise<void> {
  // Asked before the drive is, and again with what is written: no lock waits for a drive.
  const mayGoIn = async (tx: Executor) => {
    const station = await lockStation(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    const medium = await mediumFor(tx, station, code);
    if (station.mediumId && station.mediumId !== medium.id)
      throw new UserError(said('stations.anotherMediumIsIn', { stationId }));
    return { drive: station.drive, medium };
  };
  const { drive } = await db.transaction(mayGoIn);
  await withDrive(drive, async (link, hands) => {
    if (hands) await insertFromShelf(hands, drive, shelfLabel ?? code);
    const status = await link.status(drive);
    if (!status.medium) throw new UserError(said('platform.stationHasNoDisk', { stationId, code }));
  });
  await db.transaction(async (tx) => {
    const { medium } = await mayGoIn(tx);
    await notePlaced(tx, operatorId, stationId, medium);
    if (medium.isBlank) await startQueued(tx, stationId);
    if (scanned) await noteConfirmed(tx, operatorId, stationId, medium);
  });
}

/** A simulated shelf may not hold a disk of this name: then a person chooses one. */
async function insertFromShelf(hands: BenchClient, drive: string, label: string): Promise<void> {
  try {
    await hands.hand({ op: 'hand-insert', drive, label });
  } catch (error) {
    if (!(error instanceof DeviceError)) throw error;
    throw new UserError(asWritten(error.message), 409, null, {
      cause: error,
      code: 'choose-from-shelf',
    });
  }
}

/** The medium that is meant for a station; refuses one that does not belong there. */
export async function mediumFor(
  tx: Executor,
  station: typeof stations.$inferSelect,
  wanted: string,
): Promise<typeof media.$inferSelect> {
  const medium = await heldMedium(tx, wanted);
  const { code } = medium;
  refuseWithdrawn(medium);
  await refuseOut(tx, medium);
  if (medium.treatFirst) throw treatItFirst(code);
  if (medium.form !== station.form)
    throw new UserError(
      said('stations.doesNotFitStation', {
        code,
        id: station.id,
        takes: isBlockForm(station.form)
          ? station.form === 'hard-disk'
            ? said('stations.hardDisks')
            : said('stations.opticalDiscs')
          : said('stations.disks', { formName: formName(station.form) }),
      }),
    );
  const [elsewhere] = await tx.select().from(stations).where(eq(stations.mediumId, medium.id));
  if (elsewhere && elsewhere.id !== station.id)
    throw new UserError(said('stations.isInStationTake', { code, id: elsewhere.id }));
  return medium;
}

export async function notePlaced(
  tx: Executor,
  operatorId: number,
  stationId: number,
  { id, code }: { id: number; code: string },
): Promise<void> {
  await tx
    .update(stations)
    .set({ mediumId: id, confirmedAt: null })
    .where(eq(stations.id, stationId));
  await note(tx, {
    operatorId,
    kind: 'placed',
    mediumId: id,
    stationId,
    what: said('stations.putInStation', { code, stationId }),
  });
  await announce(tx, { kind: 'stations' });
}

export async function removeMedium(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  const mayComeOut = async (tx: Executor) => {
    const station = await lockStation(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    return station;
  };
  const { drive } = await db.transaction(mayComeOut);
  await withDrive(drive, async (_, hands) => {
    await hands?.hand({ op: 'hand-remove', drive });
  });
  await db.transaction(async (tx) => noteRemoved(tx, operatorId, await mayComeOut(tx)));
}

export async function noteRemoved(
  tx: Executor,
  operatorId: number,
  { id, mediumId }: Pick<typeof stations.$inferSelect, 'id' | 'mediumId'>,
): Promise<void> {
  await tx.update(stations).set({ mediumId: null, confirmedAt: null }).where(eq(stations.id, id));
  if (mediumId)
    await note(tx, {
      operatorId,
      kind: 'removed',
      mediumId,
      stationId: id,
      what: said('stations.takenOutOfStation', { id }),
    });
  await announce(tx, { kind: 'stations' });
}
