/** A long decode tells how far it is, ends with its job, and is shortened by who will not wait. */
import { readContainer } from '@/core/flux/container-reader';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import {
  decodeCapture,
  groupByTrack,
  INLINE,
  type TrackWorkers,
} from '@/core/reading/decode/decode-capture';
import type { SettlingProgress } from '@/server/states';
import { loadVector } from '../../../../../tests/support/vectors';
import { UNWATCHED, watchedDecode } from './watched-decode';

const { header, tracks } = readContainer(loadVector('flux/light-gcr62-525-16x256.fsflux'), null);
const options = { layouts: SHIPPED_LAYOUTS, workers: INLINE };
const gradesOf = ({ tracks: read }: Awaited<ReturnType<typeof decodeCapture>>) =>
  read.map(({ sectors }) => sectors.map(({ r, grade }) => `${r} ${grade}`));

/** Each part takes so much longer than the one before. */
const slow = (ms: number): TrackWorkers => {
  let parts = 0;
  return {
    threads: 1,
    decode: async (job, signal) => {
      await new Promise((resolve) => setTimeout(resolve, ms * ++parts));
      return INLINE.decode(job, signal);
    },
  };
};

const aborted = (signal: AbortSignal) =>
  new Promise((resolve) => signal.addEventListener('abort', resolve, { once: true }));

test('unwatched, it is what a decode is', async () => {
  const { decoded, leftOut } = await watchedDecode(header, tracks, options, UNWATCHED);
  expect(leftOut).toBe(0);
  expect(gradesOf(decoded)).toEqual(gradesOf(await decodeCapture(header, tracks, options)));
});

test('hurried, what hurts is read by single turns', async () => {
  const watch = { ...UNWATCHED, isHurried: async () => true };
  const { decoded, leftOut } = await watchedDecode(header, tracks, options, watch);
  expect(leftOut).toBeGreaterThan(0);
  const byTurnsOnly = await decodeCapture(header, tracks, { ...options, effort: 'by-turns' });
  expect(gradesOf(decoded)).toEqual(gradesOf(byTurnsOnly));
});

test('hurried while it goes on, what was weighed stays, and the rest is counted', async () => {
  const efforts: string[] = [];
  let hurries = false;
  const workers: TrackWorkers = {
    threads: tracks.length,
    decode: async (job, signal) => {
      efforts.push(job.effort);
      // The first of the hurt ones is done when the person will not wait for the others.
      const isFirst = efforts.filter((each) => each === 'full').length === 1;
      if (job.effort === 'full' && !isFirst) await aborted(signal!);
      const read = await INLINE.decode(job, signal);
      if (job.effort === 'full') hurries = true;
      return read;
    },
  };
  const watch = { ...UNWATCHED, isHurried: async () => hurries };
  const { leftOut } = await watchedDecode(header, tracks, { layouts: [], workers }, watch);
  const all = groupByTrack(tracks).length;
  expect(all).toBeGreaterThan(1);
  expect(leftOut).toBe(all - 1);
  expect(efforts.filter((each) => each === 'by-turns')).toHaveLength(all - 1);
});

test('hurried and ended, it ends', async () => {
  const ends = new AbortController();
  const watch = { ...UNWATCHED, signal: ends.signal, isHurried: async () => true };
  const decoding = watchedDecode(header, tracks, { ...options, workers: slow(50) }, watch);
  setTimeout(() => ends.abort(new Error('the worker ends')), 120);
  await expect(decoding).rejects.toThrow('the worker ends');
});

test('what fails in following it fails the decode', async () => {
  const watch = {
    ...UNWATCHED,
    isHurried: () => Promise.reject(new Error('the job is another worker’s')),
  };
  await expect(watchedDecode(header, tracks, options, watch)).rejects.toThrow('another worker’s');
});

test('a job that ends takes its decode along', async () => {
  const ends = new AbortController();
  const watch = { ...UNWATCHED, signal: ends.signal };
  const decoding = watchedDecode(header, tracks, { ...options, workers: slow(20) }, watch);
  ends.abort(new Error('the worker ends'));
  await expect(decoding).rejects.toThrow('the worker ends');
});

test('how far it is comes to whoever watches', async () => {
  const told: SettlingProgress[] = [];
  const watch = {
    ...UNWATCHED,
    tell: async (progress: SettlingProgress) => void told.push(progress),
  };
  // No layout fits where there is none: all tracks are hurt, and each is a part of its own.
  const workers = { ...slow(600), threads: tracks.length };
  await watchedDecode(header, tracks, { layouts: [], workers }, watch);
  expect(told.length).toBeGreaterThan(0);
  for (const { done, of } of told)
    expect([done <= of, of]).toEqual([true, groupByTrack(tracks).length]);
});
