/** Media of the survey's sounds: their images are there already, as another house read them. */
import { fogSamplerDisc, fogWavesampleFloppy } from './fog-sounds';

const museum = { lender: 'Skerrow Point museum', lot: 'lot 5', condition: '' };

/** Built anew at each call. */
export const soundScenario = () => [
  {
    code: 'SKP-0130',
    form: 'optical-disc' as const,
    title: 'Fog signals for the sampler',
    labelText: 'FOG SIGNALS / HARBOUR',
    ...museum,
    image: fogSamplerDisc(),
  },
  {
    code: 'SKP-0131',
    form: '3.5' as const,
    title: 'Fog signals, six banks',
    labelText: 'FOG 8 BIT',
    ...museum,
    image: fogWavesampleFloppy(),
  },
];
