/** Partition tables: those of a real disk, those that contradict themselves, and those without end. */
import fc from 'fast-check';
import { memorySource } from '../../bits/byte-source';
import { lostPartitions, readPartitions } from './partitions';

const SECTOR = 512;
const DISK = 4000;

interface Row {
  status?: number;
  type: number;
  start: number;
  sectors: number;
}

/** A disk of so many sectors with these tables at these places. */
function disk(tables: Record<number, readonly Row[]>, sectors = DISK): Uint8Array {
  const bytes = new Uint8Array(sectors * SECTOR);
  const view = new DataView(bytes.buffer);
  for (const [place, rows] of Object.entries(tables)) {
    const at = Number(place) * SECTOR;
    rows.forEach(({ status = 0, type, start, sectors: length }, i) => {
      const row = at + 0x1be + 16 * i;
      view.setUint8(row, status);
      view.setUint8(row + 4, type);
      view.setUint32(row + 8, start, true);
      view.setUint32(row + 12, length, true);
    });
    view.setUint16(at + 0x1fe, 0xaa55, true);
  }
  return bytes;
}

const read = async (bytes: Uint8Array) => {
  const table = await readPartitions(memorySource(bytes));
  return (
    table && {
      partitions: table.partitions.map(({ number, type, offset, length }) => [
        number,
        type,
        offset / SECTOR,
        length / SECTOR,
      ]),
      problems: table.problems.map(({ said }) => said.code),
    }
  );
};

test('primaries keep the number of their place', async () => {
  expect(
    await read(
      disk({
        0: [
          { status: 0x80, type: 6, start: 63, sectors: 1000 },
          { type: 0, start: 0, sectors: 0 },
          { type: 4, start: 1100, sectors: 900 },
        ],
      }),
    ),
  ).toEqual({
    partitions: [
      [1, 6, 63, 1000],
      [3, 4, 1100, 900],
    ],
    problems: [],
  });
});

test('logical ones begin behind their own record, and the records behind the first', async () => {
  expect(
    await read(
      disk({
        0: [
          { type: 6, start: 63, sectors: 900 },
          { type: 5, start: 1000, sectors: 3000 },
        ],
        1000: [
          { type: 6, start: 63, sectors: 500 },
          { type: 5, start: 600, sectors: 600 },
        ],
        1600: [
          { type: 1, start: 63, sectors: 400 },
          { type: 0x0f, start: 1200, sectors: 500 },
        ],
        2200: [{ type: 4, start: 63, sectors: 300 }],
      }),
    ),
  ).toEqual({
    partitions: [
      [1, 6, 63, 900],
      [5, 6, 1063, 500],
      [6, 1, 1663, 400],
      [7, 4, 2263, 300],
    ],
    problems: [],
  });
});

test.each([
  [
    'a chain that ends in itself',
    { 1000: [{ type: 5, start: 600, sectors: 9 }], 1600: [{ type: 5, start: 600, sectors: 9 }] },
    'volume.theChainOfLogical',
  ],
  ['a record that is none', { 1000: [{ type: 5, start: 600, sectors: 9 }] }, 'volume.theRecordOfA'],
])('%s is told, and what stands before it kept', async (_, records, code) => {
  const table = await read(
    disk({
      0: [
        { type: 6, start: 63, sectors: 900 },
        { type: 5, start: 1000, sectors: 3000 },
      ],
      ...(records as Record<number, Row[]>),
    }),
  );
  expect(table).toEqual({ partitions: [[1, 6, 63, 900]], problems: [code] });
});

test('one that reaches past the end is cut there, one that begins behind it left out', async () => {
  expect(
    await read(
      disk({
        0: [
          { type: 6, start: 3000, sectors: 5000 },
          { type: 6, start: 9000, sectors: 100 },
        ],
      }),
    ),
  ).toEqual({
    partitions: [[1, 6, 3000, 1000]],
    problems: ['volume.partitionEndsAtSector', 'volume.partitionStartsAtSector'],
  });
});

test('two that overlap are both given, and told', async () => {
  expect(
    (await read(
      disk({
        0: [
          { type: 6, start: 63, sectors: 1000 },
          { type: 6, start: 1000, sectors: 1000 },
        ],
      }),
    ))!.problems,
  ).toEqual(['volume.partitionsAndOverlap']);
});

test('a table that says another kind of table follows is told as what is not known', async () => {
  expect(
    (await read(disk({ 0: [{ type: 0xee, start: 1, sectors: DISK - 1 }] })))!.problems,
  ).toEqual(['volume.partitionSaysThatA']);
});

test.each([
  ['no mark and no place where it ends', (bytes: Uint8Array) => bytes.fill(0, 0x1fe, 0x200)],
  ['no partition that could be', (bytes: Uint8Array) => bytes.fill(0, 0x1be + 8, 0x1be + 16)],
  ['nothing in it', (bytes: Uint8Array) => bytes.fill(0, 0x1be, 0x1fe)],
])('a first sector with %s is no table', async (_, harm) => {
  const bytes = disk({ 0: [{ type: 6, start: 63, sectors: 1000 }] });
  expect(await read(bytes)).not.toBeNull();
  harm(bytes);
  expect(await read(bytes)).toBeNull();
});

test.each([
  ['volume.partitionHasAnOddStatus', (bytes: Uint8Array) => bytes.fill(0x33, 0x1be, 0x1bf)],
  ['volume.theTableLacksIts', (bytes: Uint8Array) => bytes.fill(0, 0x1fe, 0x200)],
  ['volume.partitionStartsAtSector', (bytes: Uint8Array) => bytes.fill(0xf6, 0x1fe - 16, 0x1fe)],
])('what is odd about a table is told, and it is read: %s', async (problem, harm) => {
  const bytes = disk({ 0: [{ type: 6, start: 63, sectors: 1000 }] });
  bytes.set([1, 17, 12], 0x1be + 5);
  harm(bytes);
  const { partitions, problems } = (await read(bytes))!;
  expect([partitions, problems.includes(problem)]).toEqual([[[1, 6, 63, 1000]], true]);
});

/** A boot sector of a volume of so many sectors (ECMA-107, clause 9). */
function bootSector(sectors: number): Uint8Array {
  const boot = new Uint8Array(SECTOR);
  boot.set([0xeb, 0x3c, 0x90]);
  boot.set([0, 2, 1, 1, 0, 2, 64, 0, sectors & 0xff, sectors >> 8, 0xf8, 2, 0], 11);
  boot.set([0x55, 0xaa], 510);
  return boot;
}

test('where the table is lost, volumes are found by their boot sectors, those inside others not', async () => {
  const bytes = disk({});
  for (const [start, sectors] of [
    [17, 400],
    [100, 50],
    [900, 300],
    [3990, 400],
  ] as const)
    bytes.set(bootSector(sectors), start * SECTOR);
  bytes.fill(0, 0, SECTOR);
  const source = memorySource(bytes);
  expect([await readPartitions(source), (await lostPartitions(source))!.partitions]).toEqual([
    null,
    [
      { number: 1, type: 0, offset: 17 * SECTOR, length: 400 * SECTOR },
      { number: 2, type: 0, offset: 900 * SECTOR, length: 300 * SECTOR },
    ],
  ]);
});

test('where the record of a logical partition is lost, the volumes behind it are found', async () => {
  const bytes = disk({
    0: [{ type: 5, start: 500, sectors: 3000 }],
    500: [
      { type: 1, start: 17, sectors: 400 },
      { type: 5, start: 500, sectors: 900 },
    ],
  });
  bytes.set(bootSector(400), 517 * SECTOR);
  bytes.set(bootSector(300), 1200 * SECTOR);
  expect(await read(bytes)).toEqual({
    partitions: [
      [5, 1, 517, 400],
      [6, 0, 1200, 300],
    ],
    problems: ['volume.theRecordOfA', 'volume.aVolumeBeginsAt'],
  });
});

test('any table at all ends, within the disk', () =>
  fc.assert(
    fc.asyncProperty(
      fc.uint8Array({ minLength: 64, maxLength: 64 }),
      fc.uint8Array({ minLength: 64, maxLength: 64 }),
      async (first, other) => {
        const bytes = disk({ 0: [], 1: [], 2: [] }, 64);
        bytes.set(first, 0x1be);
        for (const i of [0, 1, 2, 3]) bytes[0x1be + 16 * i] = 0;
        for (let at = 1; at < 64; at++) {
          bytes.set(other, at * SECTOR + 0x1be);
          bytes.set([0x55, 0xaa], at * SECTOR + 0x1fe);
        }
        const table = await read(bytes);
        for (const [, , start, length] of table?.partitions ?? []) {
          expect(start).toBeGreaterThan(0);
          expect(start! + length!).toBeLessThanOrEqual(64);
        }
      },
    ),
  ));
