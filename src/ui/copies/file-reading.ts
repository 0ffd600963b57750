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
import { tellIfAny } from '@/messages/tell';
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

/** A file as text: listed as a program, by its usual characters, or by those that were chosen. */
function textIn(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
  { set, ends }: TextChoice,
) {
  if (set !== 'usual')
    return { text: decodeText(bytes, set, ends), listing: null, isText: looksLikeText(bytes) };
  const listing = listBasic(bytes, filesystem, type);
  if (listing) return { text: listing.text, listing, isText: true };
  const usual = textOf(bytes, filesystem);
  const text =
    ends === 'any' && usual !== null ? usual : decodeText(bytes, usualSet(filesystem), ends);
  return { text, listing, isText: usual !== null };
}

function waysOf(isPicture: boolean, isText: boolean): Shown[] {
  if (isPicture) return ['picture', 'bytes', 'text'];
  return isText ? ['text', 'bytes'] : ['bytes', 'text'];
}

export function readFile(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
  choice: TextChoice,
): FileReading {
  const drawn = browserPicture(bytes);
  const picture = drawn ? null : pictureOf(bytes, filesystem, type);
  const { text, listing, isText } = textIn(bytes, filesystem, type, choice);
  const kind = () => {
    if (drawn) return say.copies.picture({ drawn: drawn.slice(6).toUpperCase() });
    if (picture) return `${picture.kind}, ${picture.width} × ${picture.height}`;
    if (listing) return say.copies.basicLinesAnd({ lines: listing.lines, after: listing.after });
    return isText ? say.copies.textWord : say.copies.bytesWord;
  };
  const cut = picture?.cut ? say.copies.thePictureEndsBefore : null;
  return {
    ways: waysOf(Boolean(drawn || picture), isText),
    kind: kind(),
    text,
    trouble: tellIfAny(listing?.trouble ?? null) ?? cut,
    picture,
    drawn,
  };
}
