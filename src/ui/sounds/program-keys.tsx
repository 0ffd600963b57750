'use client';
/**
 * A program over its keys: each sample's keys as a bar above them, played by mouse, by letters, and
 * by what sends notes to the browser. Lower on a key is louder.
 */
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { say } from '@/messages';
import { isForTheBench, useKey } from '../parts/keys';
import { ErrorAlert } from '../parts/page';
import type { Player } from './player';
import { KeyVoices, type ListedProgram } from './program-voices';
import type { ListedSample } from './sound-source';

const FIRST_KEY = 24;
const LAST_KEY = 108;
const KEYS = LAST_KEY - FIRST_KEY + 1;
const BLACK = [1, 3, 6, 8, 10];
const KEY_HEIGHT = 120;
const BAR = 22;
const MOST_BARS = 8;
/** An octave, by where letters lie: white keys below, black ones above. Digits are the stations'. */
const LETTERS = 'zsxdcvgbhnjm';
const LETTER_VELOCITY = 100;
const OCTAVE = 12;
const FIRST_OCTAVE = 48;
const NOTE_ON = 0x90;
const NOTE_OFF = 0x80;

interface ProgramKeysProps {
  program: ListedProgram;
  samples: ReadonlyMap<number, ListedSample>;
  player: Player;
}

/** Keys that sound now, how to begin and end one, and what came in between. */
function useKeys({ program, samples, player }: ProgramKeysProps) {
  const [voices] = useState(() => new KeyVoices(player, program, samples));
  const [held, setHeld] = useState<ReadonlySet<number>>(new Set());
  const [trouble, setTrouble] = useState<string | null>(null);
  const press = (key: number, velocity: number) => {
    setHeld((keys) => new Set(keys).add(key));
    setTrouble(null);
    voices.press(key, velocity).catch((error: Error) => setTrouble(error.message));
  };
  const release = (key: number) => {
    setHeld((keys) => new Set([...keys].filter((each) => each !== key)));
    voices.release(key);
  };
  useEffect(() => () => voices.leave(), [voices]);
  const latest = useRef({ press, release });
  useEffect(() => {
    latest.current = { press, release };
  });
  const octave = useLetters(latest);
  useNotes(latest);
  return { held, press, release, trouble, octave };
}

type Latest = React.RefObject<{
  press(key: number, velocity: number): void;
  release(key: number): void;
}>;

/** Gives the note of the octave that letters play; `[` and `]` move it. */
function useLetters(latest: Latest): number {
  const [octave, setOctave] = useState(FIRST_OCTAVE);
  // What each letter began, though the octave was moved since.
  const begunBy = useRef(new Map<string, number>());
  const move = (by: number) =>
    setOctave((from) => Math.max(FIRST_KEY, Math.min(LAST_KEY - OCTAVE, from + by)));
  useKey('[', () => move(-OCTAVE));
  useKey(']', () => move(OCTAVE));
  useEffect(() => {
    const begun = begunBy.current;
    const down = (event: KeyboardEvent) => {
      const letter = event.key.toLowerCase();
      const at = LETTERS.indexOf(letter);
      if (at < 0 || event.repeat || event.shiftKey || !isForTheBench(event)) return;
      event.preventDefault();
      begun.set(letter, octave + at);
      latest.current.press(octave + at, LETTER_VELOCITY);
    };
    const up = (event: KeyboardEvent) => {
      const note = begun.get(event.key.toLowerCase());
      if (note !== undefined) latest.current.release(note);
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, [latest, octave]);
  return octave;
}

/** Notes of an instrument at the machine, once a person let the page hear it. */
function useNotes(latest: Latest): void {
  useEffect(() => {
    const ended = new AbortController();
    const hear = ({ data }: MIDIMessageEvent) => {
      if (!data || data.length < 3) return;
      const kind = data[0]! & 0xf0;
      if (kind === NOTE_ON && data[2]! > 0) latest.current.press(data[1]!, data[2]!);
      else if (kind === NOTE_ON || kind === NOTE_OFF) latest.current.release(data[1]!);
    };
    // Not there, or not allowed: there are other ways to play.
    const open = async () => navigator.requestMIDIAccess?.().catch(() => null);
    void open().then((access) => {
      if (ended.signal.aborted) return;
      for (const input of access?.inputs.values() ?? [])
        input.addEventListener('midimessage', hear, { signal: ended.signal });
    });
    return () => ended.abort();
  }, [latest]);
}

export function ProgramKeys(props: ProgramKeysProps) {
  const { program } = props;
  const { held, press, release, trouble, octave } = useKeys(props);
  const down = (key: number) => (event: PointerEvent<SVGRectElement>) => {
    const { top, height } = event.currentTarget.getBoundingClientRect();
    press(key, Math.max(1, Math.round((127 * (event.clientY - top)) / height)));
  };
  const bars = barsOf(program);
  const height = bars.rows * BAR + 4;
  const width = 1000;
  const each = width / KEYS;
  const x = (key: number) => (Math.max(FIRST_KEY, Math.min(LAST_KEY + 1, key)) - FIRST_KEY) * each;
  return (
    <figure data-testid="program-keys">
      <svg
        viewBox={`0 0 ${width} ${height + KEY_HEIGHT}`}
        className="block w-full select-none"
        role="group"
        aria-label={say.sounds.keysOf({ name: program.name })}
      >
        {bars.all.map(({ name, isThere, lowKey, highKey, row }, i) => (
          <g key={i}>
            <rect
              x={x(lowKey)}
              y={row * BAR}
              width={Math.max(2, x(highKey + 1) - x(lowKey) - 1)}
              height={BAR - 2}
              fill={isThere ? 'var(--grade-firm)' : 'none'}
              stroke={isThere ? 'none' : 'var(--grade-lost)'}
              strokeDasharray="3 2"
            />
            <text x={x(lowKey) + 5} y={row * BAR + 15} fontSize="14" fill="var(--ink)">
              {name}
            </text>
          </g>
        ))}
        {Array.from({ length: KEYS }, (_, i) => FIRST_KEY + i).map((key) => (
          <rect
            key={key}
            data-key={key}
            data-held={held.has(key)}
            x={x(key)}
            y={height}
            width={each - 1}
            height={BLACK.includes(key % 12) ? KEY_HEIGHT * 0.62 : KEY_HEIGHT}
            fill={keyFill(key, held)}
            onPointerDown={down(key)}
            onPointerUp={() => release(key)}
            onPointerLeave={() => held.has(key) && release(key)}
          />
        ))}
      </svg>
      <figcaption className="mt-1 text-[12px] text-ink-2">
        {say.sounds.howToPlay({ octave })}
      </figcaption>
      <ErrorAlert>{trouble && say.sounds.canNotBeHeard({ why: trouble })}</ErrorAlert>
    </figure>
  );
}

function keyFill(key: number, held: ReadonlySet<number>): string {
  if (held.has(key)) return 'var(--oxide)';
  return BLACK.includes(key % 12) ? 'var(--ink-2)' : 'var(--unread)';
}

/** The keys of each region, those that meet one above the other. */
function barsOf({ regions }: ListedProgram) {
  const ends: number[] = [];
  const all = regions.map(({ sampleName, sample, lowKey, highKey, lowVelocity, highVelocity }) => {
    const free = ends.findIndex((end) => end < lowKey);
    const row = free >= 0 ? free : Math.min(ends.length, MOST_BARS - 1);
    ends[row] = highKey;
    const isPart = lowVelocity > 0 || highVelocity < 127;
    const name = isPart ? `${sampleName} ${lowVelocity}–${highVelocity}` : sampleName;
    return { name, isThere: sample !== null, lowKey, highKey, row };
  });
  return { all, rows: Math.max(1, ends.length) };
}
