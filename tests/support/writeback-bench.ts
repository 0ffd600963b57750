/** What tests of write-backs share: blanks on the shelf, images put together, waits. */
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { desc, eq } from 'drizzle-orm';
import { seededRandom } from '@/core/bits/random';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import type { MediumForm } from '@/core/medium-form';
import { addUpload, startAssembly } from '@/server/features/assemblies/assemblies';
import { fairCopies } from '@/server/features/copies/tables';
import { registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { media } from '@/server/features/media/tables';
import { startSitting } from '@/server/features/sittings/sittings';
import { sittings } from '@/server/features/sittings/tables';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { writebacks } from '@/server/features/writebacks/tables';
import { until } from './application';
import type { ServerSuite } from './server-suite';
import { settledAssembly } from './settled-assembly';

export const who = 1;
export const sha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
export const noise = (seed: string, length: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length }, () => random.below(256));
};

/** Stations whose drives take layouts other than those of 3½-inch disks. */
export const STATIONS: Record<string, number> = {
  'mfm-525-9x512': 4,
  'mfm-525-15x512': 3,
  'mfm-525-18x256': 4,
  'gcr45-525-35': 4,
  'gcr62-525-16x256': 4,
  'fm-8-26x128': 5,
  'mixed-8-26x256': 5,
  'mfm-8-8x1024': 5,
};

interface BlankOptions {
  ageing?: object;
  device?: object;
  density?: 'double' | 'high' | null;
}

export class WritebackBench {
  private blanks = 100;

  constructor(private readonly suite: ServerSuite) {}

  private get db() {
    return this.suite.connection.db;
  }

  /** A blank of ours on the shelf and in the register. */
  async blank(
    form: MediumForm,
    { ageing = {}, device, density = null }: BlankOptions = {},
  ): Promise<string> {
    const code = `BLK-0${this.blanks++}`;
    const common = { label: code, form, describes: 'a blank', writeProtected: false };
    const [kind, about] = device
      ? ['device', { image: null, seed: '', faults: {}, ...device }]
      : ['medium', { recorded: null, ageing: { ...ofNewDisk(code), ...ageing } }];
    writeFileSync(
      join(this.suite.application.folder, 'shelf', `${code}.${kind}.json`),
      JSON.stringify({ ...common, ...about }),
    );
    await registerMedium(
      this.db,
      who,
      NewMedium.parse({ code, form, title: 'a blank', isBlank: true, density }),
    );
    return code;
  }

  async writeback(id: number) {
    const [row] = await this.db.select().from(writebacks).where(eq(writebacks.id, id));
    return row!;
  }

  inState(id: number, ...states: string[]) {
    return until(
      `write-back ${id} to be ${states.join(' or ')}`,
      async () => {
        const row = await this.writeback(id);
        return states.includes(row.state) && row;
      },
      200,
    );
  }

  async codeOf(mediumId: number): Promise<string> {
    const [row] = await this.db
      .select({ code: media.code })
      .from(media)
      .where(eq(media.id, mediumId));
    return row!.code;
  }

  async copyOf(code: string) {
    const [medium] = await this.db.select().from(media).where(eq(media.code, code));
    const [copy] = await this.db
      .select()
      .from(fairCopies)
      .where(eq(fairCopies.mediumId, medium!.id))
      .orderBy(desc(fairCopies.id))
      .limit(1);
    return copy!;
  }

  /** Takes out what is in, if anything, and puts this in. */
  async place(station: number, code: string): Promise<void> {
    await removeMedium(this.db, who, station).catch(() => undefined);
    await placeMedium(this.db, who, station, code);
  }

  /** Read with a fresh sitting, from the drive that it is in. */
  async readAgain(code: string, station: number) {
    const id = await startSitting(this.db, who, station);
    const row = await until(
      `sitting ${id} to end`,
      async () => {
        const [sitting] = await this.db.select().from(sittings).where(eq(sittings.id, id));
        return (sitting!.state === 'done' || sitting!.state === 'failed') && sitting!;
      },
      200,
    );
    expect([code, row.state]).toEqual([code, 'done']);
    return this.copyOf(code);
  }

  /** A volume of this kind with these files, put together and settled; with the files' paths. */
  async assembled(kind: string, files: Readonly<Record<string, Uint8Array>>) {
    const { id } = await startAssembly(this.db, who, {
      title: `Round trip of ${kind}`,
      kind,
      label: BLANK_KINDS.find((each) => each.id === kind)!.mostLabel > 0 ? 'ROUND' : '',
    });
    const paths = new Map<string, Uint8Array>();
    for (const [name, bytes] of Object.entries(files)) {
      const { put, left } = await addUpload(this.db, id, name, '', bytes);
      expect(left).toEqual([]);
      paths.set(put[0]!.path, bytes);
    }
    return { copy: await this.copyOf(await settledAssembly(this.db, who, id)), paths };
  }
}

const ofNewDisk = (seed: string) => ({
  seed,
  jitterNs: 40,
  innerFactor: 1.5,
  peakShiftNs: 60,
  weak: [],
  dropouts: [],
  shedding: 0,
});
