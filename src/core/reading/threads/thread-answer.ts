/** What a decoding thread does with a message, whatever kind of thread it is. */
import { decodeJob } from '../decode/decode-capture';
import { unpackJob, type PackedJob } from './packed-job';
import { packTracks, type PackedTracks } from './packed-tracks';

export interface ThreadMessage {
  id: number;
  tracks?: PackedTracks;
  error?: string;
  /** The job's buffer, handed back. */
  flux: ArrayBuffer;
}

/** Decodes a job; gives the answer and what of it is handed over rather than copied. */
export function answerJob({ id, job }: { id: number; job: PackedJob }): {
  answer: ThreadMessage;
  handedOver: ArrayBuffer[];
} {
  try {
    const tracks = packTracks(decodeJob(unpackJob(job)));
    return {
      answer: { id, tracks, flux: job.flux },
      handedOver: [
        tracks.numbers.buffer as ArrayBuffer,
        tracks.bytes.buffer as ArrayBuffer,
        job.flux,
      ],
    };
  } catch (error) {
    return {
      answer: { id, error: (error as Error).stack ?? String(error), flux: job.flux },
      handedOver: [job.flux],
    };
  }
}
