/** A web worker that looks closely at one track: intervals, turns, sightings. */
import { analyseTrack, type LoupeRequest, type LoupeTurn } from '@/core/reading/analysis/loupe';
import { answerInWorker } from './one-worker';

answerInWorker<LoupeRequest, LoupeTurn[]>((request) => {
  const turns = analyseTrack(request);
  const handedOver = turns.flatMap(({ ribbon: { density, counts, cell } }) =>
    [density, counts, cell].map(({ buffer }) => buffer as ArrayBuffer),
  );
  return [turns, handedOver];
});
