/**
 * A program as an SFZ text instrument (UTF-8, LF): a region for each zone whose sample is there, with
 * the path of its WAV last on a line of its own. What the text has no word for is listed beside it.
 */
import { eachOnce, said, type Said } from '@/core/said';
import {
  CENTS_A_NOTE,
  MIDDLE_C,
  MOST_VALUE,
  isPlayable,
  playbackOf,
  type SoundLoop,
  type SoundProgram,
  type SoundRegion,
  type SoundSample,
} from './sound';

const MOST_TRANSPOSE = 127;
const MOST_PAN = 100;
/** Loudness is in the machine's own units: so much of a decibel a step keeps within the range. */
const DECIBEL_A_STEP = 0.12;
/** Cents that a loop is sharp by for each frame that it is shorter, of a length of one frame. */
const SHARP = 1731;
const FINE = 65_536;

const MODES = Object.freeze({
  'loop-through-release': 'loop_continuous',
  'loop-until-release': 'loop_sustain',
  'no-loop': 'no_loop',
  'to-the-end': 'one_shot',
  unknown: 'no_loop',
});

interface Sfz {
  text: string;
  notCarried: Said[];
}

/** `fileOf` gives the path of a sample's WAV from where the text lies. */
export function sfzOf(program: SoundProgram, fileOf: (sample: SoundSample) => string): Sfz {
  const lost: Said[] = [];
  const regions: string[] = [];
  for (const region of program.regions) {
    const { sample, sampleName: name } = region;
    if (!sample) lost.push(said('sound.regionIsLeftOut', { name, why: 'missing' }));
    else if (!isPlayable(region)) lost.push(said('sound.regionIsLeftOut', { name, why: 'ranges' }));
    else regions.push(regionText(region, sample, fileOf(sample), lost));
  }
  return {
    text: regions.join('\n'),
    notCarried: [...eachOnce(lost), said('sound.machineSettings')],
  };
}

function regionText(region: SoundRegion, sample: SoundSample, file: string, lost: Said[]): string {
  const { lowKey, highKey, lowVelocity, highVelocity } = region;
  return [
    '<region>',
    `lokey=${lowKey} hikey=${highKey} lovel=${lowVelocity} hivel=${highVelocity}`,
    pitchText(region, sample, lost),
    loopText(region, sample, lost),
    ...partText(sample, lost),
    ...mixText(region, lost),
    `sample=${file}`,
    '',
  ].join('\n');
}

function pitchText({ cents }: SoundRegion, sample: SoundSample, lost: Said[]): string {
  const root = sample.rootNote ?? MIDDLE_C;
  const center = Math.min(MOST_VALUE, root);
  const total = cents + sample.cents + CENTS_A_NOTE * (center - root);
  const transpose = Math.trunc(total / CENTS_A_NOTE);
  const held = Math.max(-MOST_TRANSPOSE, Math.min(MOST_TRANSPOSE, transpose));
  if (held !== transpose) lost.push(said('sound.pitchIsClamped', { name: sample.name }));
  const tune = held === transpose ? total - CENTS_A_NOTE * transpose : 0;
  return `pitch_keycenter=${center} transpose=${held} tune=${tune}`;
}

function loopText(region: SoundRegion, sample: SoundSample, lost: Said[]): string {
  const { name, loops } = sample;
  const playback = playbackOf(region.loop, sample);
  if (playback === 'unknown') lost.push(said('sound.loopModeIsNotKnown', { name }));
  const mode = MODES[playback];
  const mayLoop = mode === 'loop_continuous' || mode === 'loop_sustain';
  const held = mayLoop ? loops.findIndex(({ hold }) => hold) : -1;
  for (const i of loops.keys())
    if (mayLoop && i !== held) lost.push(said('sound.loopIsNotInProgram', { name, loop: i + 1 }));
  if (!mayLoop) return `loop_mode=${mode}`;
  if (held < 0) return 'loop_mode=no_loop';
  const loop = loops[held]!;
  const sharp = centsSharp(loop);
  if (sharp > 1) lost.push(said('sound.fineLoopIsSharp', { name, cents: sharp.toFixed(1) }));
  return `loop_mode=${mode} loop_start=${loop.startFrame} loop_end=${loop.endFrame - 1}`;
}

const centsSharp = ({ startFrame, endFrame, fine }: SoundLoop): number =>
  (SHARP * fine) / FINE / (endFrame - startFrame);

/** Only where not all of it is played. */
function partText({ name, start, end, frames }: SoundSample, lost: Said[]): string[] {
  if (frames === 0 || (start === 0 && end === frames - 1)) return [];
  if (start > end || end >= frames) {
    lost.push(said('sound.playedPartIsNone', { name }));
    return [];
  }
  const offset = start === 0 ? [] : [`offset=${start}`];
  const last = end === frames - 1 ? [] : [`end=${end}`];
  return [[...offset, ...last].join(' ')];
}

function mixText(region: SoundRegion, lost: Said[]): string[] {
  const { sampleName: name, loudness, filterOffset, pan } = region;
  if (filterOffset !== 0)
    lost.push(said('sound.filterIsNotCarried', { name, filter: filterOffset }));
  if (loudness !== 0) lost.push(said('sound.loudnessIsApproximate', { name, loudness }));
  const twice = Math.max(-MOST_PAN, Math.min(MOST_PAN, 2 * pan));
  const volume = Math.min(6, loudness * DECIBEL_A_STEP).toFixed(2);
  const words = [
    ...(loudness === 0 ? [] : [`volume=${volume}`]),
    ...(pan === 0 ? [] : [`pan=${twice}`]),
  ];
  return words.length > 0 ? [words.join(' ')] : [];
}
