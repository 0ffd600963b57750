import { said } from '../said';
import { listBasic } from './basic';

const ascii = (text: string) => [...new TextEncoder().encode(text)];

/**
 * Lines with their links, as a machine lays them out from `base` on; the codes are written out by
 * hand.
 */
function linked(base: number, lines: [number, number[]][], littleEndian = true): number[] {
  const out: number[] = [];
  const word = (value: number) =>
    littleEndian ? [value & 0xff, value >> 8] : [value >> 8, value & 0xff];
  for (const [number, codes] of lines)
    out.push(...word(base + out.length + codes.length + 5), ...word(number), ...codes, 0);
  return [...out, 0, 0];
}

test('a .d64 program, byte by byte, with the machine code behind it told apart', () => {
  // 10 PRINT"FOG":GOTO10 as it stands at 0801h.
  const program = [
    0x01, 0x08, 0x11, 0x08, 0x0a, 0x00, 0x99, 0x22, 0x46, 0x4f, 0x47, 0x22, 0x3a, 0x89, 0x31, 0x30,
    0x00, 0x00, 0x00,
  ];
  // The link is two short here: the line ends at 0812h.
  expect(listBasic(Uint8Array.from(program), 'd64', 'PRG')).toMatchObject({
    text: '10 PRINT"FOG":GOTO10',
    lines: 1,
    after: 0,
    trouble: null,
  });
  const menu = [
    0x01,
    0x08,
    ...linked(0x0801, [
      [5, [0x8f, ...ascii(' TIDES'), 0xc1]],
      [10, [0x9e, ...ascii('2061')]],
      [20, [0x83, ...ascii('1,'), 0x99, 0x3a, 0x80]],
    ]),
    0x78,
    0xa9,
    0x00,
  ];
  expect(listBasic(Uint8Array.from(menu), 'd71', 'PRG')).toEqual({
    text: '5 REM TIDESa\n10 SYS2061\n20 DATA1,‹99›:END',
    lines: 3,
    after: 3,
    trouble: null,
  });
  expect(
    listBasic(
      Uint8Array.from([
        0x01,
        0x1c,
        ...linked(0x1c01, [[1, [0xeb, 0x3a, 0xfe, 0x26, 0x3a, 0xce, 0x0a]]]),
      ]),
      'd81',
      'PRG',
    )!.text,
  ).toBe('1 DO:SLOW:POINTER');
  expect(listBasic(Uint8Array.from(menu), 'd64', 'SEQ')).toBeNull();
});

test('catalogue and ProDOS programs, of both BASICs', () => {
  const lines = linked(0x0801, [
    [10, [0x97, 0x3a, 0x91, 0x3a, 0x92, 0xd0, 0x33]],
    [20, [0xad, ...ascii('A'), 0xcf, ...ascii('5'), 0xc4, ...ascii('100')]],
    [30, [0xba, 0x22, ...ascii('HIGH WATER'), 0x22, 0x3b, 0xe7, ...ascii('(7)')]],
  ]);
  const text = '10 HOME : HGR : HCOLOR= =3\n20 IF A>5 THEN 100\n30 PRINT "HIGH WATER"; CHR$ (7)';
  expect(listBasic(Uint8Array.from(lines), 'catalogue16', 'A')!.text).toBe(text);
  expect(listBasic(Uint8Array.from(lines), 'prodos', 'FC')!.text).toBe(text);
  // 10 FOR I=1 TO 300 : PRINT "AHOY": NEXT I, then 20 REM END
  const high = (letters: string) => ascii(letters).map((byte) => byte | 0x80);
  const line = (number: number, codes: number[]) => [
    codes.length + 4,
    number & 0xff,
    number >> 8,
    ...codes,
    0x01,
  ];
  const integer = [
    ...line(10, [
      0x55,
      ...high('I1'),
      0x56,
      0xb1,
      0x01,
      0x00,
      0x57,
      0xb3,
      0x2c,
      0x01,
      0x03,
      0x61,
      0x28,
      ...high('AHOY'),
      0x29,
      0x03,
      0x59,
      ...high('I1'),
    ]),
    ...line(20, [0x5d, ...high(' END')]),
  ];
  expect(listBasic(Uint8Array.from(integer), 'catalogue16', 'I')).toEqual({
    text: '10 FOR I1=1 TO 300: PRINT "AHOY": NEXT I1\n20 REM END',
    lines: 2,
    after: 0,
    trouble: null,
  });
});

test('granule programs, with functions behind FFh and hidden colons', () => {
  const body = linked(
    0x2601,
    [
      [10, [0x87, 0xff, 0x86, ...ascii('(65314)'), 0x3a, 0x83, ...ascii(' note')]],
      [
        20,
        [0x85, ...ascii('A'), 0xb3, ...ascii('1'), 0xa7, ...ascii('5'), 0x3a, 0x84, ...ascii('9')],
      ],
    ],
    false,
  );
  expect(
    listBasic(
      Uint8Array.from([0xff, body.length >> 8, body.length & 0xff, ...body]),
      'granule',
      '0',
    )!.text,
  ).toBe("10 PRINTPEEK(65314)' note\n20 IFA=1THEN5ELSE9");
});

test('programs of FAT disks, with every kind of number', () => {
  const body = linked(0x126e, [
    [
      10,
      [
        ...ascii('A'),
        0xe7,
        0x0f,
        200,
        0x3a,
        ...ascii('B%'),
        0xe7,
        0x1c,
        0x39,
        0x30,
        0x3a,
        ...ascii('C'),
        0xe7,
        0x0c,
        0x00,
        0xb8,
        0x3a,
        ...ascii('D'),
        0xe7,
        0x0b,
        0x0f,
        0x00,
      ],
    ],
    // 1.5 is .75 × 2, so its exponent is 81h and its mantissa C0h 00 00 with the leading 1 left
    // out.
    [
      20,
      [
        ...ascii('E'),
        0xe7,
        0x1d,
        0x00,
        0x00,
        0x40,
        0x81,
        0x3a,
        ...ascii('F'),
        0xe7,
        0x1d,
        0x00,
        0x50,
        0x43,
        0x91,
        0x3a,
        ...ascii('G#'),
        0xe7,
        0x1f,
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        0x81,
      ],
    ],
    [
      30,
      [
        0x8b,
        0x20,
        ...ascii('A'),
        0xe7,
        0x12,
        0x20,
        0xcd,
        0x20,
        0x0e,
        10,
        0,
        0x20,
        0x3a,
        0xa1,
        0x20,
        0x91,
        0x20,
        0xff,
        0x96,
        ...ascii('(7)'),
        0x3a,
        0x8f,
        0xd9,
        ...ascii(' horn'),
      ],
    ],
    [40, [0xb1, 0xe9, 0xff, 0xa3, ...ascii('('), 0x12, ...ascii(')'), 0x3a, 0xfe, 0x83]],
  ]);
  expect(listBasic(Uint8Array.from([0xff, ...body, 0x1a]), 'fat12', undefined)).toEqual({
    text: "10 A=200:B%=12345:C=&HB800:D=&O17\n20 E=1.5:F=100000!:G#=1#\n30 IF A=1 THEN 10 ELSE PRINT CHR$(7)' horn\n40 WHILEEOF(1):SYSTEM",
    lines: 4,
    after: 0,
    trouble: null,
  });
});

test('what does not hold together is not made up, and nothing runs on for ever', () => {
  const noise = Uint8Array.from({ length: 9000 }, (_, i) => (i * 197 + (i >> 3)) & 0xff);
  for (const [filesystem, type] of [
    ['d64', 'PRG'],
    ['catalogue16', 'A'],
    ['catalogue16', 'I'],
    ['prodos', 'FC'],
    ['granule', '0'],
    ['fat12', undefined],
  ] as const) {
    for (const bytes of [
      noise,
      new Uint8Array(9000),
      new Uint8Array(9000).fill(0xff),
      new Uint8Array(0),
      noise.subarray(0, 5),
    ]) {
      const listing = listBasic(bytes, filesystem, type);
      if (listing) expect(listing.text.length).toBeLessThan(40_000);
    }
  }
  const broken = Uint8Array.from([
    0x01,
    0x08,
    ...linked(0x0801, [
      [10, [0x99]],
      [20, [0x99]],
      [30, [0x99]],
    ]),
  ]);
  broken[8] = 0x55;
  expect(listBasic(broken, 'd64', 'PRG')).toMatchObject({
    lines: 1,
    trouble: said('listing.linkLeadsElsewhere', { line: 20 }),
  });
});
