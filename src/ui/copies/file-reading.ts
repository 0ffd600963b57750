/** What a file can be shown as: text or listing, a picture, its bytes; worked out once for each. */
import { listBasic } from '@/core/listing/basic';
import { browserPicture, type BrowserPicture } from '@/core/picture/browser-picture';
import { pictureOf } from '@/core/picture/picture';
import type { Picture } from '@/core/picture/canvas';
import { looksLikeText, textOf } from '@/core/scan/text';
import {
  CHARACTER_SETS,
  decodeText,
  usualSet,
  type CharacterSet,
  type LineEnds,
} from '@/core/text/character-sets';
import { say } from '@/messages';

export type Shown = 'text' | 'picture' | 'bytes';

/**
 * How a person wants texts: in the set that the file system suggests, or in one of their choice.
 */
export interface TextChoice {
  set: CharacterSet | 'usual';
  ends: LineEnds;
}
export const USUAL: TextChoice = { set: 'usual', ends: 'any' };
export const SETS: readonly (CharacterSet | 'usual')[] = ['usual', ...CHARACTER_SETS];

export interface FileReading {
  /** What it can be shown as, the likeliest first. */
  ways: Shown[];
  /** What it was read as, in a few words. */
  kind: string;
  text: string;
  /** What did not hold together in it. */
  trouble: string | null;
  picture: Picture | null;
  /** A picture that the browser draws by itself. */
  drawn: BrowserPicture | null;
}

export function readFile(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
  { set, ends }: TextChoice,
): FileReading {
  const drawn = browserPicture(bytes);
  const picture = drawn ? null : pictureOf(bytes, filesystem, type);
  const listing = set === 'usual' ? listBasic(bytes, filesystem, type) : null;
  const usual = listing || set !== 'usual' ? null : textOf(bytes, filesystem);
  const text =
    listing?.text ??
    (set === 'usual' && ends === 'any' && usual !== null
      ? usual
      : decodeText(bytes, set === 'usual' ? usualSet(filesystem) : set, ends));
  const isText = listing !== null || usual !== null || (set !== 'usual' && looksLikeText(bytes));
  const ways: Shown[] =
    drawn || picture
      ? ['picture', 'bytes', 'text']
      : isText
        ? ['text', 'bytes']
        : ['bytes', 'text'];
  const kind = drawn
    ? say.copies.picture({ drawn: drawn.slice(6).toUpperCase() })
    : picture
      ? `${picture.kind}, ${picture.width} × ${picture.height}`
      : listing
        ? say.copies.basicLinesAnd({ lines: listing.lines, after: listing.after })
        : isText
          ? 'text'
          : 'bytes';
  return {
    ways,
    kind,
    text,
    trouble: listing?.trouble ?? (picture?.cut ? say.copies.thePictureEndsBefore : null),
    picture,
    drawn,
  };
}
