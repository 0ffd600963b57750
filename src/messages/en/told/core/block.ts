import { grouped } from '@/core/text/grouped';
import { counted, ordinal } from '../../words';

/** What the core says of its own accord, by the folder that says it: block. */
export const block = {
  cdTracks: ({ tracks, isMixed }: { tracks: number; isMixed: boolean }) =>
    `CD, ${counted(tracks, 'track')}${isMixed ? ' of data and sound' : ''}`,
  dvd: ({ layers }: { layers: number }) => `DVD, ${layers > 1 ? `${layers} layers` : 'one layer'}`,
  hardDisk: ({
    cylinders,
    heads,
    sectors,
  }: {
    cylinders: number;
    heads: number;
    sectors: number;
  }) => `hard disk, ${cylinders} × ${heads} × ${sectors}`,
  fromTheOtherEnd: 'from the other end',
  slower: 'slower',
  asSlowlyAsIt: 'as slowly as it goes, from the other end',
  oneBlockAtA: 'one block at a time',
  slowerOneAtA: 'slower, one at a time',
  asSlowlyAsItGoes: 'as slowly as it goes, one at a time',
  passingOverFromWhat: ({ count, from }: { count: number; from: number }) =>
    `Passing over ${counted(count, 'block')} from ${grouped(from)}: what comes easily is read first`,
  readingFromBlock: ({ from }: { from: number }) => `Reading from block ${grouped(from)}`,
  backToWhatWas: ({ count, from }: { count: number; from: number }) =>
    `Back to what was passed over: ${counted(count, 'block')} from ${grouped(from)}`,
  blockForTheTime: ({
    from,
    more,
    tries,
    how,
  }: {
    from: number;
    more: number;
    tries: number;
    how: string;
  }) =>
    `Block ${grouped(from)}${more > 0 ? ` and ${more} more` : ''} for the ${ordinal(tries)} time, ${how}`,
  everyBlockWasRead: 'Every block was read.',
  couldNotBeRead: ({ count }: { count: number }) =>
    `${counted(count, 'block')} could not be read; asking again brought nothing more.`,
  pngPicture: 'PNG picture',
  jpegPicture: 'JPEG picture',
  gifPicture: 'GIF picture',
  pdfDocument: 'PDF document',
  zipArchive: 'ZIP archive',
  gzipFile: 'gzip file',
  riffFile: 'RIFF file',
  iffFile: 'IFF file',
  midiFile: 'MIDI file',
  executableWithAnMz: 'executable with an MZ header',
  rtfText: 'RTF text',
  compoundDocument: 'compound document',
  tiffPicture: 'TIFF picture',
  aBootSector: 'a boot sector',
  aDirectory: ({ flatMap }: { flatMap: string }) => `a directory: ${flatMap}`,
  beginningOfA: ({ name }: { name: string }) => `beginning of a ${name}`,
  textFound: ({ block }: { block: string }) => `text: ${block}`,
  onlyOfBlocksWere: ({ read, blocks }: { read: number; blocks: number }) =>
    `Only ${grouped(read)} of ${grouped(blocks)} blocks were read: too few to say.`,
  filesAreOnIt: ({ files, traced }: { files: number; traced: number }) =>
    `${grouped(files)} ${files === 1 ? 'file is' : 'files are'} on it.` +
    (traced > 0 ? ` ${grouped(traced)} blocks outside of them hold something as well.` : ''),
  everyBlockIsFilled: ({ value }: { value: string }) =>
    `Every block is filled with ${value}, as formatting leaves a new disk: nothing was ever written to it.`,
  everyBlockHoldsOne: ({ fills }: { fills: string[] }) =>
    `Every block holds one value only (${fills.join(', ')}): it was wiped, or never written.`,
  besideTheEmptyVolumes:
    'Beside the empty volume’s own tables every block is as formatting left it: nothing else was written to it.',
  nearlyEveryBlockHolds:
    'Nearly every block holds bytes without any pattern, and no file, directory or text is ' +
    'among them: it was wiped with noise, or it is encrypted.',
  itLooksEmptyBut: ({ traced }: { traced: number }) =>
    `It looks empty, but ${grouped(traced)} of its blocks hold something that ` +
    'no directory lists: it was formatted, or its table replaced, over older content.',
};
