/**
 * A short program of the survey's, as BASIC of 16-bit machines keeps it: keywords as single codes,
 * numbers in binary.
 */
import { FAT_FE, FAT_FF, FAT_WORDS } from '@/core/listing/keywords';

const LINES: readonly [number, string][] = [
  [10, "'FOG SIGNAL TIMES, NORTH MOLE"],
  [20, 'CLS:PRINT "FOG SIGNAL OF THE NORTH MOLE"'],
  [30, 'FOR I=1 TO 4:READ M$,S'],
  [40, 'PRINT M$;TAB(20);S;"SECONDS"'],
  [50, 'IF S>30 THEN 70'],
  [60, 'SOUND 110,S:GOTO 80'],
  [70, 'SOUND 82,S'],
  [80, 'NEXT I'],
  [90, 'DATA "HORN, SHORT",6,"HORN, LONG",36,"BELL",2,"SIREN",48'],
  [100, 'END'],
];
const STARTS_AT = 0x1270;

const CODES = new Map<string, number[]>([
  ...[...FAT_WORDS].map(([code, word]) => [word, [code]] as [string, number[]]),
  ...[...FAT_FE].map(([code, word]) => [word, [0xfe, code]] as [string, number[]]),
  ...[...FAT_FF].map(([code, word]) => [word, [0xff, code]] as [string, number[]]),
]);
const WORDS = [...CODES.keys()].sort((a, b) => b.length - a.length);

function number(value: number, jump: boolean): number[] {
  if (jump) return [0x0e, value & 0xff, value >> 8];
  if (value < 10) return [0x11 + value];
  return value < 256 ? [0x0f, value] : [0x1c, value & 0xff, value >> 8];
}

function codesOf(line: string): number[] {
  const ascii = (text: string) => [...text].map((char) => char.charCodeAt(0));
  if (line.startsWith("'")) return [0x3a, 0x8f, 0xd9, ...ascii(line.slice(1))];
  const out: number[] = [];
  let jump = false;
  for (let at = 0; at < line.length;) {
    const rest = line.slice(at);
    const [text] = /^"[^"]*"?/.exec(rest) ?? [];
    const [digits] = /^\d+/.exec(rest) ?? [];
    const word = WORDS.find((each) => rest.startsWith(each));
    if (text) out.push(...ascii(text));
    else if (digits) out.push(...number(Number(digits), jump));
    else if (word) out.push(...CODES.get(word)!);
    else out.push(rest.charCodeAt(0));
    if (word && !text) jump = word === 'THEN' || word === 'GOTO';
    if (word === 'DATA') return [...out, ...ascii(rest.slice(word.length))];
    at += (text ?? digits ?? word ?? ' ').length;
  }
  return out;
}

export function hornProgram(): Uint8Array {
  const out = [0xff];
  for (const [line, text] of LINES) {
    const codes = codesOf(text);
    const next = STARTS_AT + out.length - 1 + codes.length + 5;
    out.push(next & 0xff, next >> 8, line & 0xff, line >> 8, ...codes, 0);
  }
  return Uint8Array.from([...out, 0, 0, 0x1a]);
}
