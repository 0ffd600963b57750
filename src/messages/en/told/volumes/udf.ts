/** What is said of volumes of the family udf: problems, evidence, refusals. */
import { counted } from '../../words';

export const udf = {
  hasLostItsName: ({ path }: { path: string }) =>
    `Nothing leads to an entry that is there; it is listed as ${path}.`,
  theRecognitionSequenceNames: 'the recognition sequence names it',
  anAnchorStandsAt: ({ at }: { at: number }) => `an anchor stands at sector ${at}`,
  aPartitionMapOf: ({ name }: { name: string }) =>
    `A partition map of a kind that is not read here (${name}): files in it are listed without their bytes.`,
  noSparingTable:
    'No table of the packets that were moved can be read: what stood in them is read where it was.',
  theLastTable: ({ written }: { written: number }) =>
    `The last table of virtual blocks stands ${counted(written, 'written block')} in front of the ` +
    'end: what was written later is taken by its own numbers.',
  noVirtualTable:
    'No table of virtual blocks can be read: they are taken by their own numbers, the last of each.',
  aSparingTable: "A table of the packets that were moved can't be read; the others are taken.",
  theMetadataFile: "The file of all entries can't be read; its mirror is taken.",
  noMetadataFile: 'Neither the file of all entries nor its mirror can be read.',
  hasNoEntryThat: ({ place }: { place: string }) => `${place} has no entry that could be read.`,
  hasFewerBytesThan: ({ place }: { place: string }) => `${place} has fewer bytes than it should.`,
  anEntryOfMakes: ({ place }: { place: string }) =>
    `An entry of ${place} makes no sense; what follows it is listed from the next sound one on.`,
  hasNoEntryThatCould: ({ path }: { path: string }) => `${path} has no entry that could be read.`,
  shouldHaveBytesFewer: ({ path, bytes }: { path: string; bytes: number }) =>
    `${path} should have ${bytes} bytes; fewer are there.`,
  noAnchorStandsAt: 'No anchor stands at sector 256, nor at the end of the disc.',
  theDescriptorsWereFound: ({ at }: { at: number }) =>
    `The volume descriptors were looked for, and found at sector ${at}.`,
  theAnchorAtSector: ({ sector, at }: { sector: number; at: number }) =>
    `The anchor at sector ${sector} is not there; the one at sector ${at} is taken.`,
  theFirstSequenceOf:
    "The first sequence of volume descriptors can't be read; the second is taken.",
  theDescriptorsDoNot: 'The descriptors do not lead to a root directory.',
  theTagOfThe: ({ id }: { id: number }) =>
    `The tag of the descriptor of kind ${id} does not sum up; it is not believed.`,
  theDescriptorOfKind: ({ id }: { id: number }) =>
    `The descriptor of kind ${id} does not match its check; it is taken as it stands.`,
  theDescriptorOfKindSays: ({
    id,
    getUint32,
    location,
  }: {
    id: number;
    getUint32: number;
    location: number;
  }) => `The descriptor of kind ${id} says that it stands at block ${getUint32}, not ${location}.`,
};
