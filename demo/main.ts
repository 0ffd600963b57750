/**
 * `shelf` puts the made-up media on the simulated bench's shelf; `stations` looks which drives the
 * bench has; `fill` registers them where the database is empty.
 */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { shippedLayout } from '@/core/layout/shipped';
import { DEFAULT_POLICY } from '@/core/reading/plan/plan';
import { config } from '@/server/platform/config';
import { connectDatabase, type Database } from '@/server/platform/db/database';
import { operators } from '@/server/features/operators/tables';
import { describe } from '@/server/features/descriptions/descriptions';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import { takeIn } from '@/server/features/intake/intake';
import { changeLot } from '@/server/features/media/lots';
import { registerMedium } from '@/server/features/media/media';
import { addPaper } from '@/server/features/media/papers';
import { changeNamed } from '@/server/features/media/named-records';
import { LotChange, NamedChange, NewMedium } from '@/server/features/media/new-medium';
import { operatorNamed } from '@/server/features/operators/operators';
import { NewReceipt } from '@/server/features/receipts/new-receipt';
import { makeReceipt } from '@/server/features/receipts/receipts';
import { RightsChange } from '@/server/features/rights/new-rights';
import { changeRights } from '@/server/features/rights/rights';
import { syncStations } from '@/server/features/stations/stations';
import { captureOf } from './capture';
import { demoDescriptions, demoLots, demoNamed, demoReceipts, demoRights } from './descriptions';
import { deviceScenario } from './devices';
import { scenario } from './scenario';
import { soundScenario } from './sound-media';

function putOnShelf(folder: string): void {
  mkdirSync(folder, { recursive: true });
  for (const {
    code,
    form = '3.5',
    title,
    layout,
    image,
    writeProtected,
    ageing,
    recorded: odd,
  } of scenario()) {
    if (odd) continue;
    const file = join(folder, `${code}.medium.json`);
    if (existsSync(file)) continue;
    if (image) writeFileSync(join(folder, `${code}.img`), image);
    const recorded = layout && image ? { layout, image: `${code}.img` } : null;
    writeFileSync(
      file,
      `${JSON.stringify({ label: code, form, describes: title, writeProtected, recorded, ageing }, null, 1)}\n`,
    );
  }
}

/** Without the zeros at its end, which a drive makes by itself. */
function trimmed(image: Uint8Array): Uint8Array {
  let end = image.length;
  while (end > 0 && image[end - 1] === 0) end--;
  return image.subarray(0, end);
}

function putDevicesOnShelf(folder: string): void {
  for (const { code, form, title, medium, seed, tellsWhere, faults, image } of deviceScenario()) {
    const file = join(folder, `${code}.device.json`);
    if (existsSync(file)) continue;
    writeFileSync(join(folder, `${code}.img`), trimmed(image));
    const device = {
      label: code,
      form,
      describes: title,
      writeProtected: true,
      medium,
      image: `${code}.img`,
      seed,
      tellsWhere,
      faults,
    };
    writeFileSync(file, `${JSON.stringify(device, null, 1)}\n`);
  }
}

async function withDatabase(work: (db: Database) => Promise<void>): Promise<void> {
  const { db, close } = connectDatabase(undefined, { max: 3, statementSeconds: 0 });
  await work(db).finally(close);
}

type DemoMedium = ReturnType<typeof scenario>[number];

/** A medium of the scenario, with its capture where it is read already. */
async function fillMedium(db: Database, who: number, medium: DemoMedium): Promise<void> {
  const { held, image, layout, ageing, recorded, form = '3.5', ...about } = medium;
  const isBlank = image === null && !recorded;
  await registerMedium(db, who, NewMedium.parse({ ...about, form, isBlank }));
  const disk = recorded ?? (image && { layout: shippedLayout(layout!)!, image });
  if (!held || !disk) return;
  const { code, title } = about;
  const capture = captureOf(`${code} ${title}`, disk, ageing);
  await takeIn(db, who, { name: `${code}.fsflux`, code }, capture);
}

/** As somebody would: the agreement laid beside it first. */
async function describeSome(db: Database, who: number): Promise<void> {
  for (const { kind, name, elements, acquisition, agreement } of demoDescriptions) {
    const paper =
      agreement &&
      (await addPaper(db, who, { lot: name }, agreement.name, Buffer.from(agreement.text)));
    const change = {
      elements,
      ...(acquisition && { acquisition: { ...acquisition, agreement: paper?.id ?? null } }),
    };
    await describe(db, who, kind, name, DescriptionChange.parse(change));
  }
  for (const { kind, name, ...rights } of demoRights)
    await changeRights(db, who, kind, name, RightsChange.parse(rights));
  for (const { kind, name, ...facts } of demoNamed)
    await changeNamed(db, who, kind, name, NamedChange.parse(facts));
  for (const { name, ...facts } of demoLots)
    await changeLot(db, who, name, LotChange.parse({ ...DEFAULT_POLICY, ...facts }));
  for (const receipt of demoReceipts) await makeReceipt(db, who, NewReceipt.parse(receipt));
}

function fill(): Promise<void> {
  return withDatabase(async (db) => {
    await syncStations(db);
    if ((await db.select().from(operators).limit(1)).length > 0) return;
    console.error('Filling the sample scenario …');
    const who = await operatorNamed(db, 'Ingrid Sollis');
    await operatorNamed(db, 'Tam Okoro');
    for (const medium of scenario()) await fillMedium(db, who, medium);
    for (const { image, cue, ...about } of soundScenario()) {
      await registerMedium(db, who, NewMedium.parse(about));
      const { code } = about;
      const name = cue ? 'fog.bin' : `${code}.img`;
      await takeIn(db, who, { name, code, ...(cue && { cue }) }, image);
    }
    for (const device of deviceScenario()) {
      const {
        code,
        form,
        title,
        labelText,
        lender,
        lot,
        condition,
        machine,
        origin = null,
      } = device;
      const about = { code, form, title, labelText, lender, lot, condition, machine, origin };
      await registerMedium(db, who, NewMedium.parse(about));
    }
    await describeSome(db, who);
  });
}

if (process.argv[2] === 'shelf') {
  const folder = config().SPINDLE_SHELF;
  putOnShelf(folder);
  putDevicesOnShelf(folder);
} else if (process.argv[2] === 'stations') await withDatabase(syncStations);
else await fill();
