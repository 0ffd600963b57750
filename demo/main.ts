/** `shelf` puts the made-up media on the simulated bench's shelf; `fill` registers them where the database is empty. */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { agedReading } from '@/core/flux/ageing';
import { ContainerWriter } from '@/core/flux/container';
import { layImage } from '@/core/image/lay-image';
import { shippedLayout } from '@/core/layout/shipped';
import { nodeDigester } from '@/node/digester';
import { connectDatabase } from '@/server/db/database';
import { operators } from '@/server/db/schema';
import { takeIn } from '@/server/services/intake';
import { registerMedium } from '@/server/services/media';
import { NewMedium } from '@/server/services/new-medium';
import { operatorNamed } from '@/server/services/operators';
import { syncStations } from '@/server/services/stations';
import { scenario, type DemoMedium } from './scenario';

const TICK_HZ = 24_000_000;

function putOnShelf(folder: string): void {
  mkdirSync(folder, { recursive: true });
  for (const { code, title, layout, image, writeProtected, ageing } of scenario()) {
    const file = join(folder, `${code}.medium.json`);
    if (existsSync(file)) continue;
    if (image) writeFileSync(join(folder, `${code}.img`), image);
    const recorded = layout && image ? { layout, image: `${code}.img` } : null;
    writeFileSync(file, `${JSON.stringify({ label: code, form: '3.5', describes: title, writeProtected, recorded, ageing }, null, 1)}\n`);
  }
}

/** The capture that an earlier sitting elsewhere would have left. */
function captureOf({ code, title, layout: id, image, ageing }: DemoMedium): Uint8Array {
  const layout = shippedLayout(id!)!;
  const writer = new ContainerWriter(nodeDigester);
  const { rpm, cylinders, heads } = layout;
  const parts = [writer.header({ tickHz: TICK_HZ, form: layout.forms[0]!, rpm, cylinders: 82, heads, label: `${code} ${title}` })];
  for (const { cylinder, head, turn } of layImage(layout, image!)) {
    parts.push(writer.reading(agedReading(turn, ageing, { cylinder, head, pass: 1, cylinders, tickHz: TICK_HZ, turnSeconds: 60 / rpm, revolutions: 2, dirt: 0 }, cylinder * heads + head)));
  }
  parts.push(writer.trailer());
  return new Uint8Array(Buffer.concat(parts));
}

async function fill(): Promise<void> {
  const { db, close } = connectDatabase(undefined, 3);
  try {
    await syncStations(db);
    if ((await db.select().from(operators).limit(1)).length > 0) return;
    console.error('Filling the sample scenario …');
    const who = await operatorNamed(db, 'Ingrid Sollis');
    await operatorNamed(db, 'Tam Okoro');
    for (const medium of scenario()) {
      const { code, title, labelText, lender, lot, condition, held, image } = medium;
      await registerMedium(db, who, NewMedium.parse({ code, form: '3.5', title, labelText, lender, lot, condition, isBlank: image === null }));
      if (held) await takeIn(db, who, `${code}.fsflux`, captureOf(medium), code);
    }
  } finally {
    await close();
  }
}

if (process.argv[2] === 'shelf') putOnShelf(process.env.SPINDLE_SHELF ?? 'data/shelf');
else await fill();
