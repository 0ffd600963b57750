/** What is on a target: from captures of a few tracks, laid down from images. */
import { loadVector } from '../../../tests/support/vectors';
import { nodeDigester } from '@/node/digester';
import { perfectReading } from '../flux/synthesis';
import { BLANK_KINDS } from '../identify/blank-kinds';
import { makeBlank } from '../identify/make-blank';
import { writableVolume } from '../identify/writable-volume';
import { flatTrack } from '../image/flat';
import { digestsOfImage } from '../image/track-digests';
import { encodeTrack } from '../layout/encode-track';
import { SHIPPED_LAYOUTS, shippedLayout } from '../layout/shipped';
import { decodeCapture } from '../reading/decode/decode-capture';
import { judgeTarget, tracksToLookAt } from './target-look';

const TICK_HZ = 24_000_000;

async function lookAt(layoutId: string, image: Uint8Array | null) {
  const layout = shippedLayout(layoutId)!;
  const ticks = (TICK_HZ * 60) / layout.rpm;
  const readings = tracksToLookAt({ cylinders: layout.cylinders, heads: layout.heads }).map(
    ({ cylinder, head }) =>
      perfectReading(
        image
          ? encodeTrack(layout, cylinder, head, flatTrack(layout, image, cylinder, head))
          : new Float64Array(0),
        { cylinder, head, pass: 0 },
        ticks,
        2,
      ),
  );
  return judgeTarget(
    await decodeCapture({ form: layout.forms[0], rpm: layout.rpm, tickHz: TICK_HZ }, readings, {
      layouts: SHIPPED_LAYOUTS,
    }),
    nodeDigester,
  );
}

test('nothing was ever recorded', async () => {
  expect(await lookAt('mfm-35-9x512', null)).toMatchObject({
    state: 'blank',
    sectors: 0,
    files: [],
  });
});

test.each(['fat12-720', 'd64', 'cpm-8', 'granule', 'prodos-280'])(
  'a blank %s volume is a format',
  async (id) => {
    const kind = BLANK_KINDS.find((each) => each.id === id)!;
    expect(
      await lookAt(kind.layout!, makeBlank(kind, kind.mostLabel > 0 ? 'EMPTY' : '')),
    ).toMatchObject({
      state: 'formatted',
      layout: kind.layout,
    });
  },
);

test('one small file is data, and so is one that was deleted; its name is told', async () => {
  const image = makeBlank(
    BLANK_KINDS.find((each) => each.id === 'fat12-720')!,
    'KEPT',
  );
  const volume = (await writableVolume(image))!;
  volume.put('FOG.TXT', new TextEncoder().encode('thick'));
  expect(await lookAt('mfm-35-9x512', image)).toMatchObject({
    state: 'data',
    files: ['FOG.TXT'],
    label: 'KEPT',
  });
  volume.remove('FOG.TXT');
  expect((await lookAt('mfm-35-9x512', image)).state).toBe('data');
});

test('its tracks have the digests that they have in the holdings', async () => {
  const image = loadVector('volumes/d64-plain.d64');
  const look = await lookAt('gcr45-525-35', image);
  expect(look.state).toBe('data');
  const held = digestsOfImage(shippedLayout('gcr45-525-35')!, image, [], nodeDigester);
  expect(look.digests.length).toBeGreaterThanOrEqual(2);
  for (const digest of look.digests) expect(held).toContainEqual(digest);
});
