/**
 * Stacks: media that are read one after the other at one station, unattended. A hand changes the
 * disks; the drive itself
 * says when the last one is out and the next one in, and the next sitting begins.
 */
import { and, eq, isNull, sql } from 'drizzle-orm';
import { z } from 'zod';
import { codeAt, readNumbering } from '@/core/medium-code';
import type { MediumForm } from '@/core/medium-form';
import type { Database, Executor } from '@/server/platform/db/database';
import { media } from '../media/tables';
import { stacks } from './tables';
import { stations } from '../stations/tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { registerManyIn } from '../media/media';
import { Code, NewMedium } from '../media/new-medium';
import { startSittingIn } from './sittings';
import { lockStation, refuseWhileBusy } from '../stations/station-use';
import { mediumFor, notePlaced, noteRemoved } from '../stations/placing';
import { withBench } from '../stations/drive-hands';
import { said } from '@/core/said';
import { say } from '@/messages';

/** Most media of one stack. */
const MOST = 200;

export const NewStack = z.union([
  z.object({
    codes: z
      .array(z.string().max(40))
      .min(1, say.forms.aStackNeedsA)
      .max(MOST, say.forms.atMostInOne({ most: MOST })),
  }),
  z.object({
    /** New media, named by a pattern in which `{n}` counts. */
    pattern: z.object({
      first: Code.refine((code) => readNumbering(code) !== null, say.forms.noNumberCounts),
      count: z.int().min(1).max(MOST),
      title: z.string().trim().min(1, say.forms.sayWhatTheyAre).max(180),
      from: z.int().min(0).max(9999).default(1),
      lot: z.string().max(80).default(''),
      lender: z.string().max(200).default(''),
    }),
  }),
]);

type Pattern = Extract<z.output<typeof NewStack>, { pattern: unknown }>['pattern'];

/** The media that a pattern names, for the register. */
function mediaOfPattern({ first, count, title, from, lot, lender }: Pattern, form: MediumForm) {
  const { numbering, number } = readNumbering(first)!;
  return Array.from({ length: count }, (_, i) =>
    NewMedium.parse({
      code: codeAt(numbering, number + i),
      form,
      title: title.includes('{n}')
        ? title.replaceAll('{n}', String(from + i))
        : `${title} ${from + i}`,
      lot,
      lender,
    }),
  );
}

export async function startStack(
  db: Database,
  operatorId: number,
  stationId: number,
  request: z.output<typeof NewStack>,
): Promise<{ stackId: number }> {
  return db.transaction(async (tx) => {
    const station = await lockStation(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    // In one transaction with the stack: where that is refused, no medium of it is left in the
    // register.
    const made = 'pattern' in request ? mediaOfPattern(request.pattern, station.form) : null;
    if (made) await registerManyIn(tx, operatorId, made);
    const codes = 'codes' in request ? request.codes : made!.map(({ code }) => code);
    const [open] = await tx
      .select()
      .from(stacks)
      .where(and(eq(stacks.stationId, stationId), isNull(stacks.endedAt)));
    if (open) throw new UserError(said('sittings.aStackIsBeing', { stationId }));
    if (new Set(codes).size < codes.length)
      throw new UserError(said('sittings.aMediumStandsTwice'), 422, 'codes');
    for (const code of codes) await mediumFor(tx, station, code);
    const [stack] = await tx
      .insert(stacks)
      .values({
        stationId,
        codes,
        awaits: station.mediumId === null ? 'in' : 'out',
        startedBy: operatorId,
      })
      .returning({ id: stacks.id });
    await note(tx, {
      operatorId,
      kind: 'stack',
      stationId,
      what: said('sittings.aStackOfBegun', {
        codes: codes.length,
        stationId,
        code: codes[0],
        code2: codes[codes.length - 1],
      }),
    });
    const [inDrive] =
      station.mediumId === null
        ? []
        : await tx.select().from(media).where(eq(media.id, station.mediumId));
    if (inDrive?.code === codes[0]) await beginNext(tx, stack!.id, operatorId, stationId);
    await announce(tx, { kind: 'stations' });
    return { stackId: stack!.id };
  });
}

export async function endStack(db: Database, operatorId: number, stationId: number): Promise<void> {
  await db.transaction(async (tx) => {
    await lockStation(tx, stationId);
    const [stack] = await tx
      .update(stacks)
      .set({ endedAt: new Date() })
      .where(and(eq(stacks.stationId, stationId), isNull(stacks.endedAt)))
      .returning();
    if (!stack) throw new UserError(said('sittings.noStackIsBeing', { stationId }));
    await note(tx, {
      operatorId,
      kind: 'stack',
      stationId,
      what: said('sittings.theStackAtStation', {
        stationId,
        begun: stack.begun,
        codes: stack.codes.length,
      }),
    });
    await announce(tx, { kind: 'stations' });
  });
}

/**
 * The next medium of a station's stack is in the drive: says a person, whose hand a simulated bench
 * lends.
 */
export async function nextOfStack(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  const nextUp = async (tx: Executor) => {
    const station = await lockStation(tx, stationId);
    const [stack] = await tx
      .select()
      .from(stacks)
      .where(and(eq(stacks.stationId, stationId), isNull(stacks.endedAt)))
      .for('update');
    const code = stack?.codes[stack.begun];
    if (!stack || !code) throw new UserError(said('sittings.noStackIsBeing', { stationId }));
    return { station, stack, code };
  };
  const { station, stack, code } = await db.transaction(async (tx) => {
    await refuseWhileBusy(tx, stationId);
    const next = await nextUp(tx);
    await mediumFor(tx, next.station, next.code);
    return next;
  });
  await withBench(async (bench) => {
    if (bench.simulated) {
      await bench.hand({ op: 'hand-remove', drive: station.drive });
      await bench.hand({ op: 'hand-insert', drive: station.drive, label: code });
    }
    if (!(await bench.status(station.drive)).medium)
      throw new UserError(said('platform.stationHasNoDisk', { stationId, code }));
  });
  await db.transaction(async (tx) => {
    const [now] = await tx.select().from(stacks).where(eq(stacks.id, stack.id));
    // The worker saw the disk go in and began with it already.
    if (!now || now.begun > stack.begun) return;
    const { station: own } = await nextUp(tx);
    await refuseWhileBusy(tx, stationId);
    const medium = await mediumFor(tx, own, code);
    if (own.mediumId !== null && own.mediumId !== medium.id) await noteRemoved(tx, operatorId, own);
    if (own.mediumId !== medium.id) await notePlaced(tx, operatorId, stationId, medium);
    await beginNext(tx, stack.id, operatorId, stationId);
  });
}

async function beginNext(
  tx: Executor,
  stackId: number,
  operatorId: number,
  stationId: number,
): Promise<void> {
  await startSittingIn(tx, operatorId, stationId, { unattended: true });
  const [stack] = await tx
    .update(stacks)
    .set({ begun: sql`${stacks.begun} + 1`, awaits: 'out', trouble: null })
    .where(eq(stacks.id, stackId))
    .returning();
  if (stack!.begun >= stack!.codes.length)
    await tx.update(stacks).set({ endedAt: new Date() }).where(eq(stacks.id, stackId));
  await announce(tx, { kind: 'stations' });
}

/**
 * Looks at the drives of all open stacks that rest: notes a disk that came out, and begins with
 * one that went in. A stack
 * that can't begin (the head wants cleaning, the medium is to be treated first) waits until it can.
 */
export async function watchStacks(db: Database): Promise<void> {
  const open = await db
    .select({ id: stacks.id, stationId: stacks.stationId, drive: stations.drive })
    .from(stacks)
    .innerJoin(stations, eq(stations.id, stacks.stationId))
    .where(isNull(stacks.endedAt));
  if (open.length === 0) return;
  const there = await withBench(
    async (bench) =>
      new Map(
        await Promise.all(
          open.map(async ({ id, drive }) => [id, (await bench.status(drive)).medium] as const),
        ),
      ),
  );
  for (const { id, stationId } of open) {
    await db
      .transaction(async (tx) => {
        const station = await lockStation(tx, stationId);
        const [stack] = await tx
          .select()
          .from(stacks)
          .where(and(eq(stacks.id, id), isNull(stacks.endedAt)))
          .for('update', { skipLocked: true });
        if (!stack || !(await isFree(tx, stationId))) return;
        const medium = there.get(id)!;
        if (stack.awaits === 'out' && !medium) {
          await tx.update(stacks).set({ awaits: 'in', trouble: null }).where(eq(stacks.id, id));
          await noteRemoved(tx, stack.startedBy, station);
        } else if (stack.awaits === 'in' && medium) {
          await notePlaced(
            tx,
            stack.startedBy,
            stationId,
            await mediumFor(tx, station, stack.codes[stack.begun]!),
          );
          await beginNext(tx, id, stack.startedBy, stationId);
        }
      })
      .catch(async (error) => {
        if (!(error instanceof UserError)) throw error;
        // Said once, where the person looks; it begins by itself when the reason is gone.
        const changed = await db
          .update(stacks)
          .set({ trouble: error.said })
          .where(
            and(
              eq(stacks.id, id),
              sql`${stacks.trouble} is distinct from ${JSON.stringify(error.said)}::jsonb`,
            ),
          )
          .returning({ id: stacks.id });
        if (changed.length > 0) await announce(db, { kind: 'stations' });
      });
  }
}

const isFree = (tx: Executor, stationId: number) =>
  refuseWhileBusy(tx, stationId).then(
    () => true,
    (error) => {
      if (error instanceof UserError) return false;
      throw error;
    },
  );
