/** The survey's recordings of fog signals, made up from sines and noise by seeds. */
import { seededRandom } from '@/core/bits/random';
import { BANKS, SECTOR, WAVESAMPLE_BYTES, placeOf } from '@/core/volume/wavesample/banks';
import { samplerDisc, type DemoSample, type DemoVolume } from './sampler-disc';

interface Tone {
  name: string;
  rateHz: number;
  seconds: number;
  hertz: number;
  /** Loudness of each harmonic. */
  harmonics: readonly number[];
  /** Share of noise, and seconds until it is full and until it has gone. */
  breath: number;
  attack: number;
  decay: number | null;
  rootNote: number;
}

const TONES: readonly Tone[] = [
  {
    name: 'HORN LOW',
    rateHz: 22_050,
    seconds: 1.6,
    hertz: 110,
    harmonics: [1, 0.7, 0.5, 0.4, 0.3, 0.2],
    breath: 0.05,
    attack: 0.2,
    decay: null,
    rootNote: 45,
  },
  {
    name: 'HORN HIGH',
    rateHz: 22_050,
    seconds: 1.2,
    hertz: 165,
    harmonics: [1, 0.5, 0.4, 0.3],
    breath: 0.04,
    attack: 0.12,
    decay: null,
    rootNote: 52,
  },
  {
    name: 'HORN HARD',
    rateHz: 22_050,
    seconds: 1.2,
    hertz: 110,
    harmonics: [1, 1, 0.9, 0.8, 0.7, 0.6, 0.5],
    breath: 0.09,
    attack: 0.03,
    decay: null,
    rootNote: 45,
  },
  {
    name: 'BELL',
    rateHz: 44_100,
    seconds: 1.5,
    hertz: 523.25,
    harmonics: [1, 0.2, 0.6, 0, 0.3, 0, 0.2],
    breath: 0,
    attack: 0.002,
    decay: 0.5,
    rootNote: 72,
  },
  {
    name: 'SIREN',
    rateHz: 22_050,
    seconds: 1,
    hertz: 440,
    harmonics: [1, 0, 0.33, 0, 0.2],
    breath: 0.02,
    attack: 0.05,
    decay: null,
    rootNote: 69,
  },
];

function tone({
  name,
  rateHz,
  seconds,
  hertz,
  harmonics,
  breath,
  attack,
  decay,
  rootNote,
}: Tone): DemoSample {
  const random = seededRandom(`sound ${name}`);
  const frames = Math.round(seconds * rateHz);
  const sum = harmonics.reduce((all, each) => all + each, breath);
  const values = Int16Array.from({ length: frames }, (_, i) => {
    const at = i / rateHz;
    const full = Math.min(1, at / attack) * (decay === null ? 1 : Math.exp(-at / decay));
    const waves = harmonics.reduce(
      (all, loud, k) => all + loud * Math.sin(2 * Math.PI * hertz * (k + 1) * at),
      0,
    );
    return Math.round(28_000 * full * ((waves + breath * (2 * random.next() - 1)) / sum));
  });
  // Whole waves, so that the loop is not heard.
  const wave = rateHz / hertz;
  const to = Math.round(wave * Math.floor((frames - 1) / wave));
  const loop = decay === null ? { from: to - Math.round(40 * wave), to } : null;
  return { name, rateHz, rootNote, cents: 0, values, loop };
}

const FOG: DemoVolume = {
  name: 'FOG SIGNALS',
  samples: TONES.slice(0, 4).map(tone),
  programs: [
    {
      name: 'NORTH MOLE',
      groups: [
        {
          lowKey: 24,
          highKey: 50,
          zones: [
            { sample: 'HORN LOW', lowVelocity: 0, highVelocity: 90 },
            { sample: 'HORN HARD', lowVelocity: 91, highVelocity: 127 },
          ],
        },
        {
          lowKey: 51,
          highKey: 65,
          zones: [{ sample: 'HORN HIGH', lowVelocity: 0, highVelocity: 127 }],
        },
        {
          lowKey: 66,
          highKey: 108,
          zones: [{ sample: 'BELL', lowVelocity: 0, highVelocity: 127 }],
        },
      ],
    },
  ],
};

const HARBOUR: DemoVolume = {
  name: 'HARBOUR',
  samples: TONES.slice(4).map(tone),
  programs: [
    {
      name: 'ALL CLEAR',
      groups: [
        {
          lowKey: 24,
          highKey: 90,
          zones: [{ sample: 'SIREN', lowVelocity: 0, highVelocity: 127 }],
        },
      ],
    },
  ],
};

/** A sampler disk of two partitions. */
export const fogSamplerDisc = (): Uint8Array => samplerDisc([[FOG], [HARBOUR]]);

/** A wavesample floppy: the same signals, eight bits deep, some to a bank. */
export function fogWavesampleFloppy(): Uint8Array {
  const image = new Uint8Array(WAVESAMPLE_BYTES);
  for (const [bank] of BANKS.entries()) {
    let at = 0;
    for (const { values } of [TONES[bank % 5]!, TONES[(bank + 2) % 5]!].map(tone)) {
      const frames = Math.min(values.length, 28_000);
      for (let i = 0; i < frames; i++, at++)
        image[placeOf(bank, SECTOR + at)] = Math.max(1, 128 + (values[i]! >> 8));
      at += 512;
    }
  }
  return image;
}
