/** What is said of volumes of the family catalogue16: problems, evidence, refusals. */
export const catalogue16 = {
  theTableOfContentsIs:
    'The table of contents is no longer one, and with it the map of free sectors is lost; the ' +
    'catalogue is read from where it always begins.',
  aSectorOfThe:
    'A sector of the catalogue is no longer led to by the one before it; it is listed with the rest.',
  theTableOfContents: ({ tracks, sectors }: { tracks: number; sectors: number }) =>
    `the table of contents says ${tracks} tracks of ${sectors} sectors`,
  sectorsOf256Bytes: 'sectors of 256 bytes',
  n122PairsA: '122 pairs a list',
  theCatalogueIsWhere: 'the catalogue is where it says',
  itsSectorsLeadFrom: 'its sectors lead from one to the next, down to the first',
  theImageEndsAfter: ({ image, total }: { image: number; total: number }) =>
    `The image ends after ${image} of ${total} bytes: what lies beyond is not there.`,
  theCatalogue: 'the catalogue',
  theCatalogueGoesOn: ({ track, sector }: { track: number; sector: number }) =>
    `The catalogue goes on at track ${track} sector ${sector}, which the image does not have.`,
  theCatalogueComesBack: 'The catalogue comes back to itself; it was read once.',
  itSharesTrackSector: ({
    block,
    block2,
    other,
  }: {
    block: number;
    block2: number;
    other: string;
  }) => `it shares track ${block} sector ${block2} with ${other}.`,
  itsListGoesOn: ({ t, s }: { t: number; s: number }) =>
    `its list goes on at track ${t} sector ${s}, which the image does not have.`,
  itsListComesBack: ({ t, s }: { t: number; s: number }) =>
    `its list comes back to track ${t} sector ${s}.`,
  itGoesOnAt: ({ dt, ds }: { dt: number; ds: number }) =>
    `it goes on at track ${dt} sector ${ds}, which the image does not have.`,
  theCatalogueSaysSectors: ({
    recordedName,
    stated,
    blocks,
  }: {
    recordedName: string;
    stated: number;
    blocks: number;
  }) => `${recordedName}: the catalogue says ${stated} sectors, it has ${blocks}.`,
  aNameBeginsWith: 'A name begins with a letter, in capitals.',
  isTooLongThirty: ({ name }: { name: string }) =>
    `“${name}” is too long: thirty characters at most.`,
  aNameCantEnd: 'A name can’t end with a blank: it is padded with blanks.',
  cantStandInA: ({ wrong }: { wrong: string }) =>
    `“${wrong}” can’t stand in a name here: capitals, digits and signs but the comma can.`,
  holdsAZeroAt: ({ path }: { path: string }) =>
    `${path} holds a zero, at which a text ends here; put it as a binary file (B).`,
  aProgramOrBinary: 'A program or binary file here holds 65 535 bytes at most.',
  aProgramOrBinaryFile: 'A program or binary file here has at least one byte.',
  theDiskHasSectors: ({ free, path, needed }: { free: number; path: string; needed: number }) =>
    `The disk has ${free} sectors free; ${path} needs ${needed}.`,
  theCatalogueIsFull: 'The catalogue is full: it holds 105 files.',
  wouldNeedAnotherBeginning: ({ path, type }: { path: string; type: string }) =>
    `${path} would need another beginning as ${type}; take it out and put it in anew.`,
  aFileOfThis: 'A file of this disk leads outside of it or back to itself; it can’t be written to.',
};
