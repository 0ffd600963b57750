/**
 * Character sets that old files are in, and the ends of their lines. Code pages by their
 * registered numbers, the
 * national seven-bit sets by ISO/IEC 646, the rest by the WHATWG Encoding Standard; a file never
 * says which it is in.
 */
import { charOf } from '../volume/d64/names';
import { decode437 } from '../volume/fat/names';

type Decoder = (bytes: Uint8Array) => string;

/** Bytes 80h–FFh by a table of 128 characters. */
const byTable =
  (table: string): Decoder =>
  (bytes) => {
    let text = '';
    for (const byte of bytes) text += byte < 0x80 ? String.fromCharCode(byte) : table[byte - 0x80]!;
    return text;
  };

/** Seven bits; the characters at # $ @ [ \\ ] ^ ` { | } ~ are a country's own. */
const NATIONAL = [0x23, 0x24, 0x40, 0x5b, 0x5c, 0x5d, 0x5e, 0x60, 0x7b, 0x7c, 0x7d, 0x7e];
const national = (own: string): Decoder => {
  const swapped = new Map(NATIONAL.map((code, i) => [code, own[i]!]));
  return (bytes) =>
    Array.from(bytes, (byte) => swapped.get(byte & 0x7f) ?? String.fromCharCode(byte & 0x7f)).join(
      '',
    );
};

const byStandard = (label: string): Decoder => {
  const decoder = new TextDecoder(label, { ignoreBOM: true });
  return (bytes) => decoder.decode(bytes);
};

/**
 * The eight-bit set of the `.d64` family with both cases: the codes of small letters are those of
 * ASCII's capitals.
 */
function bothCases(byte: number): string {
  if (byte >= 0x41 && byte <= 0x5a) return String.fromCharCode(byte + 0x20);
  if ((byte >= 0xc1 && byte <= 0xda) || (byte >= 0x61 && byte <= 0x7a))
    return String.fromCharCode(byte >= 0xc1 ? byte - 0x80 : byte - 0x20);
  return charOf(byte);
}

const each =
  (char: (byte: number) => string): Decoder =>
  (bytes) =>
    Array.from(bytes, (byte) =>
      byte === 0x0d || byte === 0x8d ? '\r' : byte === 0x0a ? '\n' : char(byte),
    ).join('');

const CP850 =
  'ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜø£Ø×ƒáíóúñÑªº¿®¬½¼¡«»░▒▓│┤ÁÂÀ©╣║╗╝¢¥┐└┴┬├─' +
  '┼ãÃ╚╔╩╦╠═╬¤ðÐÊËÈıÍÎÏ┘┌█▄¦Ì▀ÓßÔÒõÕµþÞÚÛÙýÝ¯´\u00ad±‗¾¶§÷¸°¨·¹³²■\u00a0';
const CP852 =
  'ÇüéâäůćçłëŐőîŹÄĆÉĹĺôöĽľŚśÖÜŤťŁ×čáíóúĄąŽžĘę¬źČş«»░▒▓│┤ÁÂĚŞ╣║╗╝Żż┐└┴┬├─' +
  '┼Ăă╚╔╩╦╠═╬¤đĐĎËďŇÍÎě┘┌█▄ŢŮ▀ÓßÔŃńňŠšŔÚŕŰýÝţ´\u00ad˝˛ˇ˘§÷¸°¨˙űŘř■\u00a0';
const CP865 =
  'ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜø£Ø₧ƒáíóúñÑªº¿⌐¬½¼¡«¤░▒▓│┤╡╢╖╕╣║╗╝╜╛┐└┴' +
  '┬├─┼╞╟╚╔╩╦╠═╬╧╨╤╥╙╘╒╓╫╪┘┌█▄▌▐▀αßΓπΣσµτΦΘΩδ∞φε∩≡±≥≤⌠⌡÷≈°∙·√ⁿ²■\u00a0';

// By table: some engines take windows-1252 for ISO 8859-1 and lose 80h–9Fh.
const CP1252 =
  '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ' +
  `${String.fromCharCode(...Array.from({ length: 96 }, (_, i) => 0xa0 + i))}`;

const SETS = {
  ascii: [
    'ASCII, the top bit ignored',
    (bytes: Uint8Array) => byTable('')(bytes.map((byte) => byte & 0x7f)),
  ],
  cp437: ['code page 437', decode437],
  cp850: ['code page 850, Western Europe', byTable(CP850)],
  cp852: ['code page 852, Central Europe', byTable(CP852)],
  cp865: ['code page 865, Nordic', byTable(CP865)],
  cp866: ['code page 866, Cyrillic', byStandard('ibm866')],
  cp1252: ['code page 1252, Western Europe', byTable(CP1252)],
  'koi8-r': ['KOI8-R, Cyrillic', byStandard('koi8-r')],
  'utf-8': ['UTF-8', byStandard('utf-8')],
  'utf-16le': ['UTF-16, least byte first', byStandard('utf-16le')],
  'd64-graphics': ['8-bit set of .d64 disks: capitals', each(charOf)],
  'd64-cases': ['8-bit set of .d64 disks: small letters', each(bothCases)],
  'iso646-de': ['ISO 646, German', national('#$§ÄÖÜ^`äöüß')],
  'iso646-fr': ['ISO 646, French', national('£$à°ç§^µéùè¨')],
  'iso646-gb': ['ISO 646, British', national('£$@[\\]^`{|}~')],
  'iso646-se': ['ISO 646, Swedish', national('#¤ÉÄÖÅÜéäöåü')],
  'iso646-no': ['ISO 646, Norwegian', national('#$@ÆØÅ^`æøå~')],
} as const satisfies Record<string, readonly [name: string, decode: Decoder]>;

export type CharacterSet = keyof typeof SETS;
export const CHARACTER_SETS = Object.freeze(Object.keys(SETS) as CharacterSet[]);
export const nameOfSet = (set: CharacterSet): string => SETS[set][0];

export const LINE_ENDS = Object.freeze(['any', 'cr', 'lf', 'crlf', 'none'] as const);
/** `any` takes each kind for one end of a line; `none` leaves them as they are. */
export type LineEnds = (typeof LINE_ENDS)[number];

/** The set that text on a file system is in where nothing else is known. */
export function usualSet(filesystem: string): CharacterSet {
  if (/^fat/.test(filesystem)) return 'cp437';
  if (/^d(64|71|81)$/.test(filesystem)) return 'd64-graphics';
  return filesystem === 'catalogue16' ||
    filesystem === 'prodos' ||
    filesystem === 'granule' ||
    filesystem === 'cpm'
    ? 'ascii'
    : 'cp1252';
}

const ENDS: Record<Exclude<LineEnds, 'none'>, RegExp> = {
  any: /\r\n|\n\r|\r|\n/g,
  cr: /\r/g,
  lf: /\n/g,
  crlf: /\r\n/g,
};
/** What would move the cursor or hide what stands beside it. */
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g;
/** A kind of line end that was not asked for is shown instead of ending a line. */
const SHOWN: Record<string, string> = { '\r': '␍', '\n': '␊' };

/**
 * Text with `\n` at the end of each line. Control characters are shown as their pictures, never
 * left to act.
 */
export function decodeText(bytes: Uint8Array, set: CharacterSet, ends: LineEnds): string {
  const text = SETS[set][1](bytes);
  const lines = ends === 'none' ? [text] : text.split(ENDS[ends]);
  return lines
    .map((line) =>
      line
        .replace(/[\r\n]/g, (char) => SHOWN[char]!)
        .replace(CONTROL, (char) =>
          char < ' ' ? String.fromCharCode(0x2400 + char.charCodeAt(0)) : '·',
        ),
    )
    .join('\n');
}
