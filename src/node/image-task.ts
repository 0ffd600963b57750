/** What is asked of an image thread, and what comes back: the messages between the two sides. */
import { Matcher } from '@/core/scan/matcher';
import { stringsOf } from '@/core/scan/strings';
import type { ByteSource } from '@/core/bits/byte-source';

/** Work on all of an image, by its name. */
export const IMAGE_TASKS = Object.freeze({
  strings: (source: ByteSource, { least, limit }: { least: number; limit: number }) =>
    stringsOf(source, least, limit),
  find: (source: ByteSource, { pattern }: { pattern: Int16Array }) =>
    new Matcher([pattern]).search(source),
});

export type ImageTaskName = keyof typeof IMAGE_TASKS;
export type ImageQuestion<K extends ImageTaskName> = Parameters<(typeof IMAGE_TASKS)[K]>[1];
export type ImageAnswer<K extends ImageTaskName> = Awaited<ReturnType<(typeof IMAGE_TASKS)[K]>>;

/** The thread has no image: it asks for each piece. */
export type ToImageThread =
  | { kind: 'begin'; task: ImageTaskName; question: never; size: number }
  | { kind: 'bytes'; read: number; bytes: Uint8Array };
export type FromImageThread =
  | { kind: 'read'; read: number; offset: number; length: number }
  | { kind: 'done'; answer: unknown }
  | { kind: 'failed'; message: string };
