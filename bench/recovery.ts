/**
 * `npm run bench -- recovery`: the share of sectors recovered against the level of damage, for each
 * encoding; and what is called sound and is not.
 */
import { seededRandom } from '@/core/bits/random';
import { flatTrack } from '@/core/image/flat';
import { encodeTrack } from '@/core/layout/encode-track';
import { bytesOf, formatAt, TrackRule, turnCells, type Layout } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { RUNS } from '@/core/encoding';
import { isSound } from '@/core/reading/grades';
import { TrackDecoder } from '@/core/reading/decode/track-decoder';
import { Hurt, hurtOfLevel, hurtReading } from '../tests/support/hurt-flux';
import { TrackSector } from '@/core/reading/track-sector';
import { TurnTransitions } from '@/core/flux/synthesis';

export const LEVELS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10];
const LAYOUTS = [
  'fm-8-26x128',
  'mfm-35-9x512',
  'mfm-35-18x512',
  'gcr45-525-35',
  'gcr62-525-16x256',
];
const TICK_HZ = 24_000_000;

export interface RecoveryRow {
  layout: string;
  level: number;
  passes: number;
  sectors: number;
  sound: number;
  /** Called firm or mended with bytes that were never written. */
  wrong: number;
  byGrade: Record<string, number>;
  milliseconds: number;
}

function measure(layout: Layout, level: number, passes: number, tracks: number): RecoveryRow {
  const random = seededRandom(`recovery/${layout.id}`);
  const image = Uint8Array.from({ length: bytesOf(layout) }, () => random.below(256));
  const row: RecoveryRow = {
    layout: layout.id,
    level,
    passes,
    sectors: 0,
    sound: 0,
    wrong: 0,
    byGrade: {},
    milliseconds: 0,
  };
  const decoder = new TrackDecoder({ tickHz: TICK_HZ, rpm: layout.rpm }, 'all');
  for (let track = 0; track < tracks; track++) {
    const cylinder = Math.floor((track * layout.cylinders) / tracks);
    const head = track % layout.heads;
    const format = formatAt(layout, cylinder, head)!;
    const sectors = flatTrack(layout, image, cylinder, head);
    const turn = encodeTrack(layout, cylinder, head, sectors);
    const hurt = hurtOfLevel(level, `${layout.id}/${level}`);
    const readings = hurtPasses(passes, turn, hurt, cylinder, head, layout, format);
    const started = performance.now();
    const { sectors: found } = decoder.decode(readings, layout);
    row.milliseconds += performance.now() - started;
    row.sectors += sectors.length;
    countOutcome(found, row, sectors);
  }
  return row;
}

function hurtPasses(
  passes: number,
  turn: TurnTransitions,
  hurt: Hurt,
  cylinder: number,
  head: number,
  layout: Layout,
  format: TrackRule,
) {
  return Array.from({ length: passes }, (_, pass) =>
    hurtReading(turn, hurt, {
      cylinder,
      head,
      pass,
      revolutions: 2.3,
      tickHz: TICK_HZ,
      turnSeconds: 60 / layout.rpm,
      turnCells: turnCells(format, layout.rpm),
      shortestRun: RUNS[format.encoding].shortest,
    }),
  );
}

function countOutcome(
  found: TrackSector[],
  row: RecoveryRow,
  sectors: ReturnType<typeof flatTrack>,
) {
  const credited = new Set<number>();
  for (const { r, grade, mending, data } of found) {
    if (!isSound(grade)) continue;
    const key = mending ?? 'firm';
    row.byGrade[key] = (row.byGrade[key] ?? 0) + 1;
    const written = sectors.find((sector) => sector.r === r);
    if (written && Buffer.compare(data!, written.data) === 0) credited.add(r);
    else row.wrong++;
  }
  row.sound += credited.size;
}

export function benchRecovery(tracks: number, levels: readonly number[] = LEVELS): RecoveryRow[] {
  return LAYOUTS.flatMap((id) =>
    [1, 3].flatMap((passes) =>
      levels.map((level) => measure(shippedLayout(id)!, level, passes, tracks)),
    ),
  );
}

/** As `docs/recovery.md` has it: a line a layout and number of passes, a column a level. */
export function recoveryTable(rows: readonly RecoveryRow[]): string {
  const percent = ({ sound, sectors }: RecoveryRow) => `${((100 * sound) / sectors).toFixed(1)}`;
  const keys = [
    ...new Set(
      rows.map(({ layout, passes }) => `${layout}, ${passes} ${passes === 1 ? 'pass' : 'passes'}`),
    ),
  ];
  const lines = keys.map((key) => {
    const own = rows.filter(
      ({ layout, passes }) => key === `${layout}, ${passes} ${passes === 1 ? 'pass' : 'passes'}`,
    );
    return (
      `| ${key} | ` +
      `${LEVELS.map((level) => {
        const row = own.find((each) => each.level === level);
        return row ? percent(row) : '';
      }).join(' | ')} ` +
      `| ${own.reduce((sum, { sectors }) => sum + sectors, 0)} | ` +
      `${own.reduce((sum, { wrong }) => sum + wrong, 0)} |`
    );
  });
  return [
    `| share of sectors sound, % | ${LEVELS.join(' | ')} | sectors tried | called ` +
      'sound and wrong |',
    `|---|${LEVELS.map(() => '---').join('|')}|---|---|`,
    ...lines,
  ].join('\n');
}
