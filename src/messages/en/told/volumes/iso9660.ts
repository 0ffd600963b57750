/** What is said of volumes of the family iso9660: problems, evidence, refusals. */
import { counted } from '../../words';
import { only } from './only';

export const iso9660 = {
  aVolumeDescriptorIs: 'A volume descriptor is no longer one.',
  aRootThatLeads: 'a root directory that leads to itself',
  theDescriptorIsLost:
    "The volume's own descriptor is lost: its files are listed from its root directory on.",
  theTwoPathTables: 'The two path tables differ.',
  thePathTableCalls: ({ differing }: { differing: number }) =>
    `The path table gives ${differing} of the directories another name or another place in the ` +
    'tree than the directories themselves.',
  onlyThePathTable: ({ name }: { name: string }) =>
    `Only the path table leads to the directory ${name}; it is listed with the rest.`,
  aSectorOfLists: ({ place }: { place: string }) =>
    `A sector of ${place} has nothing where a record should begin.`,
  theTwoDirectoriesList: ({
    onlyPlain,
    morePlain,
    onlyJoliet,
    moreJoliet,
  }: {
    onlyPlain: readonly string[];
    morePlain: number;
    onlyJoliet: readonly string[];
    moreJoliet: number;
  }) =>
    'The plain directory and the Joliet one list different files.' +
    `${only('the plain one', onlyPlain, morePlain)}${only('Joliet', onlyJoliet, moreJoliet)}`,
  thePathTableLacks: ({ missing, more }: { missing: number; more: number }) =>
    `The path table lacks ${missing} of the directories and names ${more} that the tree does not lead to.`,
  theCatalogueOfWhat: 'The catalogue of what the disc starts from is damaged.',
  andLiePartlyOn: ({ path, path2 }: { path: string; path2: string }) =>
    `${path} and ${path2} lie partly on one another.`,
  theListOfVolume: 'The list of volume descriptors does not end as it should.',
  theVolumesSizeIs: ({ little, big, value }: { little: number; big: number; value: number }) =>
    `The volume's size is ${little} one way and ${big} the other; ${value} is taken.`,
  theVolumeHasBlocks: ({
    value,
    blockBytes,
    source,
  }: {
    value: number;
    blockBytes: number;
    source: number;
  }) => `The volume has ${value} blocks of ${blockBytes} bytes; the image ends after ${source}.`,
  aPrimaryVolumeDescriptor: 'a primary volume descriptor stands at sector 16',
  itsRootIsA: 'its root is a directory',
  jolietNamesBesideIt: 'Joliet names beside it',
  place: 'place',
  length: 'length',
  aRecordOfMakes: ({ place }: { place: string }) =>
    `A record of ${place} makes no sense; the rest of its sector is not listed.`,
  theSystemUseEntries: ({ place, name }: { place: string; name: string }) =>
    `The system use entries of ${place}/${name} are damaged.`,
  shouldGoOnIn: ({ first }: { first: string }) =>
    `${first} should go on in another record, and does not.`,
  goesOnBehindThe: ({ place }: { place: string }) =>
    `${place} goes on behind the end of the image.`,
  theOfIsOne: ({
    what,
    name,
    little,
    big,
    block,
  }: {
    what: string;
    name: string;
    little: number;
    big: number;
    block: number;
  }) => `The ${what} of ${name} is ${little} one way and ${big} the other; ${block} is taken.`,
  shouldBeADirectory: ({ each }: { each: string }) =>
    `${each} should be a directory that stands elsewhere; there is none.`,
  filesBeforeTheImage: ({ files, sectors }: { files: number; sectors: number }) =>
    `The image lacks the first ${counted(sectors, 'sector')} of its disc, and ` +
    `${counted(files, 'file')} that ${files === 1 ? 'lies' : 'lie'} there.`,
  aFileOfBytes: ({ bytes, block }: { bytes: number; block: number }) =>
    `A file of ${bytes} bytes at block ${block} goes on behind the end of the image.`,
  isPackedIn: ({ path }: { path: string }) =>
    `${path} is packed in a way that is not read here, or its header is damaged; it is listed as it ` +
    'is recorded.',
  theRecordOfThe: 'The record of the root directory makes no sense.',
};
