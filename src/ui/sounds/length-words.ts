import { say } from '@/messages';

/** How long a sound is, and whether it goes on. */
export function lengthWords(seconds: number, isLooped: boolean): string {
  const told = say.sounds.seconds({ seconds: seconds.toFixed(2) });
  return isLooped ? `${told} · ${say.sounds.looped}` : told;
}
