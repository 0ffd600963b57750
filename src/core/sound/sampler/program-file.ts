/**
 * Program files of sampler volumes: a header and key groups of the same length, each with up to four
 * velocity zones that name the samples they play.
 */
import { said } from '@/core/said';
import { bytesIn, numberIn, signedIn } from '../../volume/record';
import {
  FILE_MARK,
  KEY_GROUP_FIELDS,
  PROGRAM_HEADER,
  ZONE,
  ZONES,
  ZONE_FIELDS,
  ZONE_TABLE,
  nameOf,
} from '../../volume/sampler/records';
import type { VolumeEntry } from '../../volume/volume';
import {
  CENTS_A_NOTE,
  PLAYBACKS,
  isPlayable,
  type LoopMode,
  type SoundProgram,
  type SoundRegion,
} from '../sound';
import { FileProblems, headerBytesOf } from './sample-file';

/** No program has more key groups: their number is a byte. */
export const MOST_PROGRAM_BYTES = 192 * 256;

const LOOP_MODES: readonly LoopMode[] = Object.freeze(['as-sample', ...PLAYBACKS]);

type SampleNamed = (name: string) => SoundRegion['sample'];

/** A program by the bytes of its file; null where not even its header is there. */
export function programOf(
  entry: VolumeEntry,
  path: string,
  bytes: Uint8Array,
  sampleNamed: SampleNamed,
): SoundProgram | null {
  const each = headerBytesOf(entry);
  if (bytes.length < each) return null;
  const problems = new FileProblems(entry);
  const mark = numberIn(bytes, PROGRAM_HEADER.kind);
  if (mark !== FILE_MARK.program)
    problems.tell('sound-header-odd', said('sound.beginsOtherwise', { path, mark }));
  const counted = numberIn(bytes, PROGRAM_HEADER.keyGroups);
  const there = Math.floor(bytes.length / each) - 1;
  if (there < counted)
    problems.tell('sample-cut', said('sound.holdsFewerKeyGroups', { path, there, counted }));
  const regions: SoundRegion[] = [];
  for (let number = 0; number < Math.min(counted, there); number++) {
    const group = bytes.subarray(each * (number + 1), each * (number + 2));
    const groupMark = numberIn(group, KEY_GROUP_FIELDS.kind);
    if (groupMark !== FILE_MARK.keyGroup) {
      const its = { path, group: number + 1, mark: groupMark };
      problems.tell('sound-header-odd', said('sound.keyGroupBeginsOtherwise', its));
    }
    regions.push(...regionsOf(group, sampleNamed));
  }
  tellRegions(regions, path, problems);
  const midiProgram = numberIn(bytes, PROGRAM_HEADER.program);
  return { path, name: entry.recordedName, entry, midiProgram, regions, problems: problems.list };
}

/** A region for each zone of a key group that names a sample. */
function regionsOf(group: Uint8Array, sampleNamed: SampleNamed): SoundRegion[] {
  const { cents, semitones } = KEY_GROUP_FIELDS;
  const own = CENTS_A_NOTE * signedIn(group, semitones) + signedIn(group, cents);
  const regions: SoundRegion[] = [];
  for (let zone = 0; zone < ZONES; zone++) {
    const at = ZONE_TABLE + zone * ZONE;
    const sampleName = nameOf(bytesIn(group, ZONE_FIELDS.name, at));
    if (sampleName === '') continue;
    const number = (field: keyof typeof ZONE_FIELDS) => numberIn(group, ZONE_FIELDS[field], at);
    const signed = (field: keyof typeof ZONE_FIELDS) => signedIn(group, ZONE_FIELDS[field], at);
    regions.push({
      sample: sampleNamed(sampleName),
      sampleName,
      lowKey: numberIn(group, KEY_GROUP_FIELDS.lowKey),
      highKey: numberIn(group, KEY_GROUP_FIELDS.highKey),
      lowVelocity: number('lowVelocity'),
      highVelocity: number('highVelocity'),
      cents: own + CENTS_A_NOTE * signed('semitones') + signed('cents'),
      loop: LOOP_MODES[number('loopMode')] ?? 'unknown',
      loudness: signed('loudness'),
      filterOffset: signed('filterOffset'),
      pan: signed('pan'),
    });
  }
  return regions;
}

function tellRegions(regions: readonly SoundRegion[], path: string, problems: FileProblems): void {
  const missing = new Set(
    regions.filter(({ sample }) => !sample).map(({ sampleName }) => sampleName),
  );
  for (const name of missing)
    problems.tell('missing-sample', said('sound.sampleIsNotThere', { path, name }));
  const odd = regions.filter((region) => !isPlayable(region)).length;
  if (odd > 0) problems.tell('bad-range', said('sound.rangesAreNone', { path, count: odd }));
  const unknown = regions.filter(({ loop }) => loop === 'unknown').length;
  if (unknown > 0)
    problems.tell('sound-header-odd', said('sound.loopModesAreNone', { path, count: unknown }));
}
