import { loadVector } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
import { ownUnits } from './own-units';

// As the machines themselves would list them: 254 bytes of a block are data, a sapling has an index
// block, a list sector counts.
test.each([
  ['d64-plain.d64', 'TIDES 1987', '28 blocks'],
  ['d81-plain.d81', 'FOG LOG', '20 blocks'],
  ['prodos-280.po', 'TIDES.1988', '19 blocks'],
  ['catalogue16-plain.do', 'CHART', '34 sectors'],
  ['granule-plain.img', 'TIDES.DAT', '4 granules'],
])('%s: %s takes %s', async (image, path, size) => {
  const {
    volumes: [found],
  } = await identifyVolumes(memorySource(loadVector(`volumes/${image}`)));
  expect(found!.volume.entries.find((entry) => entry.path === path)!.ownSize).toBe(size);
});

test('free space in the units of its machine', () => {
  expect([
    ownUnits('d64', 664 * 256),
    ownUnits('granule', 2304),
    ownUnits('cpm', 3072),
    ownUnits('fat12', 1024),
  ]).toEqual(['664 blocks', '1 granule', '3K', null]);
});
