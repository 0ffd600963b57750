/** The made-up devices: what the core opens on them is what was put there. */
import { memorySource } from '@/core/bits/byte-source';
import { identifyVolumes } from '@/core/identify/identify';
import { deviceScenario } from './devices';

test('the hard disk has a partition of FAT16, the discs have ISO 9660, and none a problem', async () => {
  const [disk, , charts] = deviceScenario();
  const found = await identifyVolumes(memorySource(disk!.image));
  expect(found.partitions).toMatchObject([{ number: 1, type: 6 }]);
  expect(found.problems).toEqual([]);
  expect(
    found.volumes.map(({ volume }) => [volume.filesystem, volume.label, volume.problems]),
  ).toEqual([['fat16', 'LOGHOUSE', []]]);
  expect(found.volumes[0]!.volume.entries.filter(({ deleted }) => deleted)).toHaveLength(1);
  const disc = await identifyVolumes(memorySource(charts!.image));
  expect(
    disc.volumes.map(({ volume }) => [volume.filesystem, volume.label, volume.problems]),
  ).toEqual([['iso9660', 'CHARTS_1994', []]]);
  expect(disc.volumes[0]!.volume.entries.filter(({ kind }) => kind === 'file')).toHaveLength(16);
});
