/** Codes that data is recorded in, by their identifiers. */
export const encodings = {
  fm: 'FM',
  mfm: 'MFM',
  'gcr-4to5': '4-to-5 group code',
  'gcr-6and2': '6-and-2 group code',
};
