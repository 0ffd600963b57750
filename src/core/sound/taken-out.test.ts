/** What is chosen of sounds, and what is the same written once: by cases made apart from this code. */
import { posix } from 'node:path';
import { strictSfz } from '../../../tests/support/sound/strict-sfz';
import { loadVector } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import type { SoundSample } from './sound';
import { soundsIn } from './sounds-of';
import { TakingOut, chosenOf, type TakenProgram } from './taken-out';

async function firstFolder(name: string) {
  const { sounding } = await soundsIn(memorySource(loadVector(`sound/${name}.img`)));
  const { volume, sounds } = sounding[0]!;
  return { volume, folder: sounds.folders[0]! };
}
const named = (samples: readonly SoundSample[]) => samples.map(({ name }) => name);

test('a chosen sample comes alone, a chosen program with what it plays and nothing else', async () => {
  const { folder } = await firstFolder('p-missing');
  const [sample] = folder.samples;
  const alone = chosenOf(folder, (entry) => entry === sample!.entry);
  expect([named(alone.samples), alone.programs]).toEqual([[sample!.name], []]);
  const [program] = folder.programs;
  const playing = chosenOf(folder, (entry) => entry === program!.entry);
  expect(playing.programs).toEqual([program]);
  // The case names samples that its volume lacks.
  expect(named(playing.samples)).toEqual(['HERE']);
  expect(chosenOf(folder, () => false)).toMatchObject({ samples: [], programs: [] });
  expect(named(chosenOf(folder, () => true).samples)).toEqual(named(folder.samples));
});

test('the same sample in two volumes is one file, which the programs of both play', async () => {
  const { volume, folder } = await firstFolder('p-large-192');
  const again = { ...folder, path: ['B', 'AGAIN'] };
  const takingOut = new TakingOut({ keyOf: ({ name }) => name });
  const first = [...takingOut.filesOf(volume, folder)];
  const second = [...takingOut.filesOf(volume, again)];
  const wavs = first.filter(({ kind }) => kind === 'sample').map(({ file }) => file);
  expect(second.every(({ kind }) => kind === 'program')).toBe(true);
  expect(takingOut.shared.map(({ file }) => file)).toEqual(wavs);
  const programs = [...first, ...second].filter((each): each is TakenProgram => 'text' in each);
  expect(programs.length).toBeGreaterThan(1);
  for (const { file, text } of programs)
    for (const { sample } of strictSfz(text))
      expect(wavs).toContain(posix.join(posix.dirname(file), sample));
});

test('without a key each is written, in every volume anew', async () => {
  const { volume, folder } = await firstFolder('p-large-192');
  const takingOut = new TakingOut({ keyOf: () => null });
  const files = [folder, { ...folder, path: ['B', 'AGAIN'] }].flatMap((each) => [
    ...takingOut.filesOf(volume, each),
  ]);
  expect(files).toHaveLength(2 * (folder.samples.length + folder.programs.length));
  expect(takingOut.shared).toEqual([]);
});
