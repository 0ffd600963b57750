/**
 * A thread that encrypts one stream under a passphrase (age, version 1). It asks for plain pieces
 * when it needs them and
 * gives an encrypted one when it is asked: streams themselves can't be handed over, Node 20
 * stalls on them.
 */
import { parentPort } from 'node:worker_threads';
import { Encrypter } from 'age-encryption';

export type ToThread =
  | { kind: 'begin'; passphrase: string }
  | { kind: 'next' }
  | { kind: 'plain'; bytes: Uint8Array | null };
export type FromThread = { kind: 'more' } | { kind: 'secret'; bytes: Uint8Array | null };

const port = parentPort!;
const say = (message: FromThread) =>
  port.postMessage(
    message,
    message.kind === 'secret' && message.bytes ? [message.bytes.buffer as ArrayBuffer] : [],
  );

let give: ((bytes: Uint8Array | null) => void) | null = null;
const plain = new ReadableStream<Uint8Array>(
  {
    async pull(controller) {
      const piece = new Promise<Uint8Array | null>((resolve) => (give = resolve));
      say({ kind: 'more' });
      const bytes = await piece;
      if (bytes) controller.enqueue(bytes);
      else controller.close();
    },
  },
  { highWaterMark: 0 },
);

let reader: Promise<ReadableStreamDefaultReader<Uint8Array>>;
port.on('message', async (message: ToThread) => {
  if (message.kind === 'plain') return give?.(message.bytes);
  if (message.kind === 'begin') {
    const encrypter = new Encrypter();
    encrypter.setPassphrase(message.passphrase);
    reader = encrypter.encrypt(plain).then((stream) => stream.getReader());
    return;
  }
  const { done, value } = await (await reader).read();
  // A copy: what is handed over is gone here.
  say({ kind: 'secret', bytes: done ? null : value.slice() });
});
