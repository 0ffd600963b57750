/** The drives of the simulated bench. */
import type { FormFactor } from '@/core/flux/container';
import { type BlockDriveDescription, type TrackDriveDescription } from '@/benchlink/messages';

const drive = (
  id: string,
  form: FormFactor,
  serial: string,
  cylinders: number,
  rpm: number,
  model: string,
): TrackDriveDescription => ({
  id,
  form,
  cylinders,
  heads: 2,
  tickHz: 24_000_000,
  rpm,
  model: `simulated ${model}`,
  serial,
  delivers: 'flux',
  writes: true,
});

const SMALL = '3½-inch drive, 80 cylinders';

/** Drives of the bench, each with its share of speed error. */
export const DRIVES: readonly [TrackDriveDescription, number][] = [
  [drive('A', '3.5', 'SIM-35-0001', 82, 300, SMALL), 0.008],
  [drive('B', '3.5', 'SIM-35-0002', 82, 300, SMALL), -0.004],
  [drive('C', '5.25', 'SIM-525-0001', 82, 360, '5¼-inch drive, 80 cylinders'), 0.006],
  [drive('D', '5.25', 'SIM-525-0002', 42, 300, '5¼-inch drive, 40 cylinders'), -0.009],
  [drive('E', '8', 'SIM-8-0001', 77, 360, '8-inch drive, 77 cylinders'), 0.004],
  [
    {
      ...drive('F', '3.5', 'SIM-35-0003', 82, 300, `${SMALL}, sectors only`),
      delivers: 'sectors',
      writes: false,
    },
    0.002,
  ],
];

export const BLOCK_DRIVES: readonly BlockDriveDescription[] = [
  {
    id: 'G',
    form: 'hard-disk',
    model: 'simulated hard disk cable',
    serial: 'SIM-HD-0001',
    delivers: 'blocks',
    writes: true,
    bus: 'parallel, 40 pins',
    speeds: [],
  },
  {
    id: 'H',
    form: 'optical-disc',
    model: 'simulated optical drive',
    serial: 'SIM-OD-0001',
    delivers: 'blocks',
    writes: true,
    bus: 'serial, 7 pins',
    speeds: [16, 8, 4, 1],
  },
];
