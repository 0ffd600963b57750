/** A web worker that looks closely at one track: intervals, turns, sightings. */
import { analyseTrack, type LoupeRequest, type LoupeTurn } from '@/core/reading/analysis/loupe';

export type LoupeAnswer = { id: number; turns: LoupeTurn[] } | { id: number; error: string };

const scope = self as unknown as {
  onmessage: ((event: MessageEvent) => void) | null;
  postMessage(message: LoupeAnswer, transfer: Transferable[]): void;
};

scope.onmessage = ({
  data: { id, request },
}: MessageEvent<{ id: number; request: LoupeRequest }>) => {
  try {
    const turns = analyseTrack(request);
    scope.postMessage(
      { id, turns },
      turns.flatMap(({ ribbon }) => [
        ribbon.density.buffer as ArrayBuffer,
        ribbon.counts.buffer as ArrayBuffer,
        ribbon.cell.buffer as ArrayBuffer,
      ]),
    );
  } catch (error) {
    scope.postMessage({ id, error: (error as Error).message }, []);
  }
};
