/** Volumes with nothing on them, by their identifiers. */
export const blanks = {
  'fat12-360': 'FAT12, 360 KiB',
  'fat12-720': 'FAT12, 720 KiB',
  'fat12-1200': 'FAT12, 1.2 MiB',
  'fat12-1440': 'FAT12, 1.44 MiB',
  d64: '.d64, 664 blocks',
  d71: '.d71, 1 328 blocks',
  d81: '.d81, 3 160 blocks',
  'prodos-280': 'ProDOS, 280 blocks',
  'prodos-1600': 'ProDOS, 1 600 blocks',
  catalogue16: '16-sector catalogue, 496 sectors',
  'cpm-8': 'CP/M, 8-inch standard',
  granule: 'Granules, 68',
  wavesample: 'Wavesample, six banks',
};
