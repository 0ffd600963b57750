/** A thread of Node's decode pool. */
import { parentPort } from 'node:worker_threads';
import { answerJob } from '@/core/reading/threads/thread-answer';

parentPort!.on('message', (message: Parameters<typeof answerJob>[0]) => {
  const { answer, handedOver } = answerJob(message);
  parentPort!.postMessage(answer, handedOver);
});
