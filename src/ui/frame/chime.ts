/** Two soft tones when a station begins to wait for a hand; silent where a person turned it off. */
import { useEffect, useRef, useSyncExternalStore } from 'react';

const KEPT_AS = 'spindle-sound';
const TONES_HZ = [659.3, 880];
const TONE_SECONDS = 0.34;

let audio: AudioContext | null = null;

function ring(): void {
  // Counted where a test, and a person who looks into a silent room, can see it.
  document.documentElement.dataset.chimes = String(
    Number(document.documentElement.dataset.chimes ?? 0) + 1,
  );
  try {
    audio ??= new AudioContext();
    void audio.resume();
    for (const [i, frequency] of TONES_HZ.entries()) {
      const start = audio.currentTime + i * TONE_SECONDS * 0.6;
      const tone = audio.createOscillator();
      const level = audio.createGain();
      tone.frequency.value = frequency;
      level.gain.setValueAtTime(0, start);
      level.gain.linearRampToValueAtTime(0.25, start + 0.02);
      level.gain.exponentialRampToValueAtTime(0.001, start + TONE_SECONDS);
      tone.connect(level).connect(audio.destination);
      tone.start(start);
      tone.stop(start + TONE_SECONDS);
    }
  } catch {
    // A computer without sound: the station bar shows it all the same.
  }
}

const listeners = new Set<() => void>();
const isOn = () => localStorage.getItem(KEPT_AS) !== 'off';

export function useSound(): [boolean, () => void] {
  const on = useSyncExternalStore(
    (changed) => {
      listeners.add(changed);
      return () => listeners.delete(changed);
    },
    isOn,
    () => true,
  );
  const turn = () => {
    localStorage.setItem(KEPT_AS, on ? 'off' : 'on');
    for (const changed of listeners) changed();
  };
  return [on, turn];
}

/**
 * Rings once for each of `waiting` that was not there before; what waits when a page opens was
 * heard already.
 */
export function useChime(waiting: readonly string[] | null): void {
  const known = useRef<Set<string> | null>(null);
  const key = waiting?.join('\n');
  useEffect(() => {
    if (key === undefined) return;
    const now = new Set(key.split('\n').filter(Boolean));
    const before = known.current;
    known.current = now;
    if (before && isOn() && [...now].some((each) => !before.has(each))) ring();
  }, [key]);
}
