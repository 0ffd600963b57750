/** Media of the survey's sounds: their images are there already, as another house read them. */
import { listeningDisc } from './listening-disc';
import { fogSamplerDisc, fogWavesampleFloppy } from './fog-sounds';

interface SoundMedium {
  code: string;
  form: 'optical-disc' | '3.5';
  title: string;
  labelText: string;
  lender: string;
  lot: string;
  condition: string;
  image: Uint8Array;
  /** The sheet of a disc of sound. */
  cue?: string;
}

const museum = { lender: 'Skerrow Point museum', lot: 'lot 5', condition: '' };

/** Built anew at each call. */
export const soundScenario = (): SoundMedium[] => [
  {
    code: 'SKP-0130',
    form: 'optical-disc',
    title: 'Fog signals for the sampler',
    labelText: 'FOG SIGNALS / HARBOUR',
    ...museum,
    image: fogSamplerDisc(),
  },
  {
    code: 'SKP-0131',
    form: '3.5',
    title: 'Fog signals, six banks',
    labelText: 'FOG 8 BIT',
    ...museum,
    image: fogWavesampleFloppy(),
  },
  {
    code: 'SKP-0132',
    form: 'optical-disc',
    title: 'Fog signals, to listen to',
    labelText: 'HORNS AND THE BELL',
    ...museum,
    ...listeningDisc(),
  },
];
