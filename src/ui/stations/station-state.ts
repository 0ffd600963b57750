/**
 * What a station does, what it waits for, and what may be done with it: the same for the bench, the
 * rail and its keys.
 */
import { FORM_NAMES } from '@/core/medium-form';
import { readsBlocks } from '@/core/drive-abilities';
import type { Station } from '../data/queries';

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
  if (sitting?.state === 'dirty') return 'clean the head, then put the disk back';
  if (sitting?.state === 'asks') return 'how far to read?';
  if (sitting?.state === 'held') return sitting.now;
  if (isBusy(station) || sitting) return null;
  if (nextWriteback) return nextWriteback.trouble ?? `next blank, for ${nextWriteback.code}`;
  if (stack?.trouble) return stack.trouble;
  if (stack?.next)
    return station.cleaningDue ? `clean the head, then ${stack.next}` : `next disk: ${stack.next}`;
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
  if (station.cleaningDue) return 'clean the head before the next medium';
  return medium ? 'in the drive, ready' : `${FORM_NAMES[form]}, ready`;
}

interface StationAction {
  /** With the station's number before it, from any page. */
  key: string;
  name: string;
  /** Sent to the station, or to its sitting. */
  body: object;
  to: 'station' | 'sitting';
}

/** What a key may start at a station now. No key starts a write. */
export function stationActions(station: Station): StationAction[] {
  const { id, medium, sitting, stack } = station;
  const at = (key: string, name: string, body: object): StationAction => ({
    key,
    name,
    body,
    to: 'station',
  });
  const of = (key: string, name: string, requestedAction: string): StationAction => ({
    key,
    name,
    body: { requestedAction },
    to: 'sitting',
  });
  if (sitting) {
    return [
      ...(sitting.state === 'dirty'
        ? [at('c', `Head of station ${id} is clean, disk is back`, { action: 'clean' })]
        : []),
      ...(sitting.state === 'reading' || sitting.state === 'held' || sitting.state === 'waiting'
        ? [of('p', 'Pause', 'pause')]
        : []),
      ...(sitting.state === 'paused'
        ? [of('g', 'Go on', 'go-on')]
        : sitting.state === 'dirty'
          ? [of('g', 'Go on without cleaning', 'go-on')]
          : []),
      ...(sitting.state !== 'settling' ? [of('s', 'Stop and keep what is read', 'stop')] : []),
    ];
  }
  if (station.test && ['waiting', 'reading', 'held'].includes(station.test.state))
    return [at('x', 'Give the test up', { action: 'end-test' })];
  if (isBusy(station)) return [];
  return [
    ...(stack?.next ? [at('n', `${stack.next} is in: read it`, { action: 'next' })] : []),
    ...(!medium && !readsBlocks(station.abilities)
      ? [at('c', `Head of station ${id} is clean`, { action: 'clean' })]
      : []),
    ...(medium?.isReference
      ? [at('t', `Test the drive with ${medium.code}`, { action: 'test' })]
      : []),
    ...(medium && !medium.isBlank && !medium.isReference
      ? [
          at(
            'l',
            readsBlocks(station.abilities) ? 'Look at its tables' : 'Look at the first tracks',
            { action: 'start', unattended: false },
          ),
          at('u', 'Read it all, unattended', { action: 'start', unattended: true }),
        ]
      : []),
    ...(medium ? [at('o', `Take ${medium.code} out`, { action: 'remove' })] : []),
  ];
}

/** A drive so that it can't be taken for another. */
export const driveName = ({ model, serial }: Pick<Station, 'model' | 'serial'>) =>
  `${model} · ${serial}`;
