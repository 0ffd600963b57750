/** What the loupe asks of its workers. */
import type { LoupeRequest, LoupeTurn } from '@/core/reading/analysis/loupe';
import type { TrackWeights, WeighRequest } from '@/core/reading/analysis/weigh-track';
import { OneWorker } from './one-worker';

const looks = new OneWorker<LoupeRequest, LoupeTurn[]>(
  () => new Worker(new URL('./loupe-worker.ts', import.meta.url), { type: 'module' }),
);
const weighs = new OneWorker<WeighRequest, TrackWeights | null>(
  () => new Worker(new URL('./weigh-worker.ts', import.meta.url), { type: 'module' }),
);

export const lookCloselyInWorker = (request: LoupeRequest): Promise<LoupeTurn[]> =>
  looks.ask(request);

/** It takes seconds: whoever looks at another track gives it up. */
export const weighInWorker = (
  request: WeighRequest,
  signal: AbortSignal,
): Promise<TrackWeights | null> => weighs.ask(request, signal);
