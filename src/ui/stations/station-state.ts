/**
 * What a station does, what it waits for, and what may be done with it: the same for the bench, the
 * rail and its keys.
 */
import { FORM_NAMES } from '@/messages/names';
import type { Station } from '../data/queries';
import { say } from '@/messages';

const RUNNING = ['waiting', 'reading', 'held', 'settling'];

export const isBusy = ({ sitting, writeback, test }: Station) =>
  (sitting !== null && RUNNING.includes(sitting.state)) ||
  (writeback !== null && writeback.state !== 'asks') ||
  (test !== null && test.state !== 'done' && test.state !== 'failed');

/** What a station waits for from a hand, in a few words; null where it waits for none. */
export function waitsFor(station: Station): string | null {
  const { sitting, writeback, test, stack, nextWriteback } = station;
  if (writeback?.state === 'asks' || writeback?.state === 'held') return writeback.now;
  if (test?.state === 'held') return test.now;
  if (sitting?.state === 'dirty') return say.stations.cleanTheHeadThenPut;
  if (sitting?.state === 'asks') return say.stations.howFarToRead;
  if (sitting?.state === 'held') return sitting.now;
  if (isBusy(station) || sitting) return null;
  if (nextWriteback)
    return nextWriteback.trouble ?? say.stations.nextBlankFor({ code: nextWriteback.code });
  if (stack?.trouble) return stack.trouble;
  if (stack?.next)
    return station.cleaningDue
      ? say.stations.cleanTheHeadThen2({ next: stack.next })
      : say.stations.nextDisk2({ next: stack.next });
  return null;
}

/** What it does or waits for, in a few words. */
export function doing(station: Station): string {
  const { medium, sitting, writeback, test, form } = station;
  const waits = waitsFor(station);
  if (waits) return waits;
  if (writeback) return writeback.now;
  if (sitting?.state === 'paused') return 'paused';
  if (sitting) return sitting.now;
  if (isBusy(station)) return test!.now;
  if (station.cleaningDue) return say.stations.cleanTheHeadBefore;
  return medium ? say.stations.inTheDriveReady : say.stations.ready({ formName: FORM_NAMES[form] });
}

/** A drive so that it can't be taken for another. */
export const driveName = ({ model, serial }: Pick<Station, 'model' | 'serial'>) =>
  `${model} · ${serial}`;
