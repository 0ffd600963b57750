/** Files that change their system keep what both know, and else are what their content is. */
import { kindOnTarget } from './file-types';

const text = new TextEncoder().encode('Fog at noon.\r\n');
const highText = text.map((byte) => byte | 0x80);
const program = Uint8Array.of(0, 8, 0x4c, 0xff);

test.each([
  ['the same family keeps it', 'd81', program, { filesystem: 'd64', type: 'USR' }, { type: 'USR' }],
  [
    'with its address',
    'catalogue16',
    program,
    { filesystem: 'catalogue16', type: 'B', address: 0x2000 },
    { type: 'B', address: 0x2000 },
  ],
  [
    'what both systems know',
    'prodos',
    program,
    { filesystem: 'catalogue16', type: 'B', address: 0x2000 },
    { type: '06', address: 0x2000 },
  ],
  [
    'and back',
    'catalogue16',
    program,
    { filesystem: 'prodos', type: 'fc', address: 0x801 },
    { type: 'A', address: 0x801 },
  ],
  ['text from elsewhere', 'catalogue16', text, { filesystem: 'fat12' }, { type: 'T' }],
  ['text with the top bit set', 'prodos', highText, { filesystem: null }, { type: '04' }],
  ['bytes from elsewhere', 'catalogue16', program, { filesystem: null }, { type: 'B' }],
  [
    'an empty file has no head',
    'catalogue16',
    new Uint8Array(0),
    { filesystem: 'catalogue16', type: undefined },
    { type: 'T' },
  ],
  ['text', 'd64', text, { filesystem: 'cpm' }, { type: 'SEQ' }],
  ['bytes', 'granule', program, { filesystem: 'cpm' }, { type: '1' }],
  ['systems without types', 'fat12', program, { filesystem: 'd64', type: 'PRG' }, {}],
] as const)('%s: on %s', (_, filesystem, bytes, from, kind) => {
  expect(kindOnTarget(filesystem, bytes, from)).toEqual(kind);
});
