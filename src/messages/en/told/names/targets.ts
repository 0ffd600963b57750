/** Families of machines that are to read an image, by their identifiers: what they do, no models. */
export const targets = {
  'fat-double-density': 'FAT system, double-density drives',
  'fat-525-high-density': 'FAT system, 5¼-inch high density',
  'fat-35-high-density': 'FAT system, 3½-inch high density',
  'fat-hard-disk': 'FAT system, hard disk of at most 32 MiB a volume',
  gcr45: '4-to-5 GCR drive, one side',
  'mfm-10x512': '3½-inch drive of 10 × 512, blocks of 256',
  'gcr62-catalogue': '6-and-2 GCR drive, sector catalogue',
  'gcr62-prodos': '6-and-2 GCR drive, ProDOS',
  'cpm-8': 'CP/M, 8-inch single density',
  granule: '5¼-inch drive of 18 × 256, granules',
  wavesample: '3½-inch drive of 5 × 1024 + 512, wavesamples',
};
