/** A web worker of the page that decodes tracks, so that the page itself never waits. */
import { answerJob } from '@/core/reading/threads/thread-answer';

const scope = self as unknown as {
  onmessage: ((event: MessageEvent) => void) | null;
  postMessage(message: unknown, transfer: Transferable[]): void;
};

scope.onmessage = ({ data }: MessageEvent<Parameters<typeof answerJob>[0]>) => {
  const { answer, handedOver } = answerJob(data);
  scope.postMessage(answer, handedOver);
};
