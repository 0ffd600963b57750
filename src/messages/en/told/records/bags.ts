/** What is said of bags that come from others. */
import { counted } from '../../words';

const PROBLEMS: Record<string, (path: string) => string> = {
  undeclared: () => 'it does not declare itself as RFC 8493 asks for (bagit.txt)',
  'no-manifest': () => 'it has no manifest by an algorithm that is known here',
  'manifest-unread': (path: string) => `a line of a manifest can’t be read: ${path}`,
  missing: (path: string) => `${path} is listed and not there`,
  unlisted: (path: string) => `${path} is there and in no manifest`,
  'unsafe-path': (path: string) => `${path} leads out of the bag`,
  'listed-twice': (path: string) => `${path} is listed twice`,
  differs: (path: string) => `${path} is not what its digest says`,
  'other-length': (path: string) => `its payload is not the ${path} that it says (Payload-Oxum)`,
};

interface OddRecord {
  code: string;
  field: string;
  why: string;
}

interface CameIn {
  bag: string;
  folder: string;
  was: string;
}

interface Elsewhere {
  at: string;
  who: string;
  kind: string;
  what: string;
}

export const bags = {
  problem: ({ kind, path }: { kind: string; path: string }) =>
    PROBLEMS[kind]?.(path) ?? `${kind} ${path}`,
  isNotWhole: ({ name, problems, more }: { name: string; problems: string[]; more: number }) =>
    `${name} is a bag that is not whole: ${problems.join('; ')}` +
    `${more > 0 ? `; and ${more} more` : ''}. Nothing was taken in. ` +
    'Ask for it once more, from whoever made it.',
  breaksOff: ({ name }: { name: string }) =>
    `${name} is a bag that breaks off before its end. Nothing was taken in; send it once more.`,
  isHereAlready: ({ name, before }: { name: string; before: string }) =>
    `${name} is the same bag as ${before}, which is here already. Nothing was taken in twice.`,
  bagItself: 'such bag, or all of it became media and papers',
  recordIsOdd: ({ code, field, why }: OddRecord) =>
    `What the bag says of ${code} can’t be registered here (${field}: ${why}). Nothing was taken in.`,
  checked: ({ percent }: { percent: number }) => `A bag: ${percent} % of its digests checked`,
  takingIn: ({ done, of }: { done: number; of: number }) => `${done} of ${of} media taken in`,
  takenIn: ({ media, lot }: { media: number; lot: string }) =>
    `A bag, checked and taken in: ${counted(media, 'medium', 'media')}${lot && `, lot ${lot}`}.`,
  cameIn: ({ bag, folder, was }: CameIn) =>
    `Came in the bag ${bag} (${folder}), where it was ${was}`,
  elsewhere: ({ at, who, what }: Elsewhere) =>
    `In another house, ${String(at).slice(0, 16).replace('T', ' ')} UTC${who ? `, ${who}` : ''}: ${what}`,
};
