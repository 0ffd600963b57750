/** What is said before writing: by machine, by blank and by drive. */
import { tell } from '@/messages/tell';
import { BLANK_KINDS } from '../identify/blank-kinds';
import { makeBlank } from '../identify/make-blank';
import { bytesOf } from '../layout/layout';
import { shippedLayout } from '../layout/shipped';
import {
  checkMedium,
  checkTarget,
  TARGET_HEAD_BYTES,
  TARGET_PROFILES,
  type ForMedium,
} from './targets';

const profile = (id: string) => TARGET_PROFILES.find((each) => each.id === id)!;
const weights = (findings: { weight: string }[]) => findings.map(({ weight }) => weight);

test('every blank volume with a layout goes on a machine that ships, and every layout named there exists', () => {
  for (const { layouts } of TARGET_PROFILES)
    for (const id of layouts) expect(shippedLayout(id)).toBeDefined();
  for (const kind of BLANK_KINDS) {
    const { id, layout, bytes } = kind;
    if (!layout) continue;
    const filesystem = id.split('-')[0]!;
    const fits = TARGET_PROFILES.filter(
      (each) =>
        !checkTarget(each, {
          layout,
          bytes,
          volumes: [{ filesystem, totalBytes: bytes }],
          head: makeBlank(kind, kind.mostLabel > 0 ? 'A' : '').subarray(0, TARGET_HEAD_BYTES),
        }).some(({ weight }) => weight === 'stops'),
    );
    expect([id, fits.length > 0]).toEqual([id, true]);
  }
});

test('the wrong drive, the wrong system, too large, and not startable are each said in a sentence', () => {
  const head = new Uint8Array(8192);
  const about = {
    layout: 'mfm-35-18x512',
    bytes: 1_474_560,
    volumes: [{ filesystem: 'fat12', totalBytes: 1_474_560 }],
    head,
  };
  expect(
    checkTarget(profile('fat-double-density'), about).map(({ sentence }) => tell(sentence)),
  ).toEqual([
    'Its drives take mfm-525-9x512 or mfm-35-9x512, not mfm-35-18x512.',
    'Its system takes volumes of at most 1\u2009048\u2009576 bytes; this one has 1\u2009474\u2009560.',
    'Its first sector holds no program that starts the machine: it can be read there, not started from.',
  ]);
  expect(weights(checkTarget(profile('gcr45'), about))).toEqual(['stops', 'stops']);
  expect(weights(checkTarget(profile('fat-35-high-density'), { ...about, volumes: [] }))).toEqual([
    'stops',
    'beware',
  ]);
  head.set([0xeb, 0x3c, 0x90]);
  head.fill(0x31, 62, 200);
  head.set([0x55, 0xaa], 510);
  expect(checkTarget(profile('fat-35-high-density'), about)).toEqual([]);
  expect(
    tell(checkTarget(profile('fat-35-high-density'), { ...about, layout: null })[0]!.sentence),
  ).toContain('No layout is known');
});

test('blank, drive and layout must go together', () => {
  const layout = shippedLayout('mfm-35-18x512')!;
  const about = (change: Partial<ForMedium>): ForMedium => ({
    layout: {
      id: layout.id,
      forms: layout.forms,
      cylinders: 80,
      heads: 2,
      rpm: 300,
      rateKbps: 500,
      bytes: bytesOf(layout),
    },
    imageBytes: bytesOf(layout),
    blank: { code: 'BLK-0001', form: '3.5', density: null },
    drive: { form: '3.5', cylinders: 82, heads: 2, rpm: 300 },
    ...change,
  });
  expect(checkMedium(about({}))).toEqual([]);
  expect(
    checkMedium(about({ blank: { code: 'BLK-0001', form: '5.25', density: null } })).map(
      ({ sentence }) => tell(sentence),
    ),
  ).toEqual([
    'mfm-35-18x512 goes on 3½-inch disks; BLK-0001 is 5¼-inch.',
    'BLK-0001 is 5¼-inch, the drive 3½-inch.',
  ]);
  expect(
    weights(checkMedium(about({ blank: { code: 'B', form: '3.5', density: 'double' } }))),
  ).toEqual(['stops']);
  expect(
    weights(checkMedium(about({ drive: { form: '3.5', cylinders: 40, heads: 1, rpm: 300 } }))),
  ).toEqual(['stops', 'stops']);
  expect(
    weights(checkMedium(about({ drive: { form: '3.5', cylinders: 82, heads: 2, rpm: 360 } }))),
  ).toEqual(['beware']);
  expect(tell(checkMedium(about({ imageBytes: 737_280 }))[0]!.sentence)).toContain(
    'the last 737\u2009280 are filled with zeros',
  );
  expect(weights(checkMedium(about({ imageBytes: 2_000_000 })))).toEqual(['stops']);
  expect(weights(checkMedium(about({ layout: null })))).toEqual(['stops']);
  const thin = about({
    layout: {
      id: 'mfm-525-9x512',
      forms: ['5.25'],
      cylinders: 40,
      heads: 2,
      rpm: 300,
      rateKbps: 250,
      bytes: 368_640,
    },
    imageBytes: 368_640,
    blank: { code: 'B', form: '5.25', density: 'high' },
    drive: { form: '5.25', cylinders: 80, heads: 2, rpm: 300 },
  });
  expect(checkMedium(thin).map(({ sentence }) => sentence.code)).toEqual([
    'assembly.theDriveHasTwice',
    'assembly.isAHighDensity',
  ]);
});
