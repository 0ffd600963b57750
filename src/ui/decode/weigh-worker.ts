/** A web worker that weighs all turns of one track together: seconds, beside what is looked at. */
import {
  weighTrack,
  type TrackWeights,
  type WeighRequest,
} from '@/core/reading/analysis/weigh-track';
import { answerInWorker } from './one-worker';

answerInWorker<WeighRequest, TrackWeights | null>((request) => {
  const weights = weighTrack(request);
  return [weights, weights ? [weights.doubt.buffer as ArrayBuffer] : []];
});
