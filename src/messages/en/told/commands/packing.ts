/** What the commands say of packing images. */
export const ofPacking = {
  packTakes: 'pack takes an image',
  packTakesOne: 'pack takes one image, or many with --try',
  unpackTakes: 'unpack takes one packed image',
  unpackNeeds: 'unpack needs --out FILE where the name does not end in .gz',
  packedInto: (its: { bytes: string; packed: string; percent: number; path: string }) =>
    `${its.bytes} bytes packed into ${its.packed} (${its.percent} %) in ${its.path}`,
  wouldSave: (its: {
    files: number;
    bytes: string;
    packed: string;
    saved: string;
    seconds: number;
  }) =>
    `${its.files} ${its.files === 1 ? 'file' : 'files'}, ${its.bytes} bytes: about ` +
    `${its.packed} packed, ${its.saved} saved, in about ` +
    `${its.seconds <= 1 ? 'a second' : `${its.seconds} s`} or less`,
  hasNoIndex: ({ path }: { path: string }) =>
    `${path} has no index of ours that holds together. If it is a gzip file, gunzip unpacks it.`,
  isNotWhatWasPacked: ({ path }: { path: string }) =>
    `What ${path} unpacks to is not what was packed: its digest differs. Nothing was written.`,
  gunzipGives: ({ what }: { what: string }) =>
    `${what} Nothing was written; gunzip gives what stands before it.`,
  bytesIn: ({ bytes, path, sha256 }: { bytes: string; path: string; sha256: string }) =>
    `${bytes} bytes in ${path}; SHA-256 ${sha256}`,
};
