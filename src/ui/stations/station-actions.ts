/**
 * What can be done at a station, each once: the buttons of its page, its keys from any page, the
 * command line and the help are all made from this table. Nothing here starts a write: that is done
 * by a button that names its target, under a hand.
 */
import { readsBlocks } from '@/core/drive-abilities';
import type { Station } from '../data/queries';
import { isBusy } from './station-state';
import { say } from '@/messages';

interface ActionRule {
  /** Behind the station's number, from any page. */
  key: string;
  /** On the station's own page, where that is another key. */
  keyOnPage?: string;
  name: (station: Station) => string;
  isOffered: (station: Station) => boolean;
  /** What is likeliest to be wanted stands out. */
  isPrimary?: (station: Station) => boolean;
  /** Whom it is asked of, and with what. */
  to: 'station' | 'sitting';
  body: object;
  /** Asked while the drive is at work with something else, too. */
  whileBusy?: boolean;
}

const always = () => true;
const ofSitting =
  (...states: string[]) =>
  ({ sitting }: Station) =>
    sitting !== null && states.includes(sitting.state);
const isIdle = ({ sitting }: Station) => sitting === null;
const isOriginal = ({ medium }: Station) =>
  medium !== null && !medium.isBlank && !medium.isReference;
const isTesting = ({ test }: Station) =>
  test !== null && ['waiting', 'reading', 'held'].includes(test.state);

const RULES: readonly ActionRule[] = [
  {
    key: 'c',
    name: ({ id, medium }) =>
      say.stations.headOfStationIs({ id, code: medium?.code ?? 'the disk' }),
    isOffered: ofSitting('dirty'),
    isPrimary: always,
    to: 'station',
    body: { action: 'clean' },
  },
  {
    key: 'p',
    name: () => say.stations.pause,
    isOffered: ofSitting('reading', 'held', 'waiting'),
    to: 'sitting',
    body: { requestedAction: 'pause' },
  },
  {
    key: 'g',
    name: () => say.stations.goOn,
    isOffered: ofSitting('paused'),
    isPrimary: always,
    to: 'sitting',
    body: { requestedAction: 'go-on' },
  },
  {
    key: 'g',
    name: () => say.stations.goOnWithoutCleaning,
    isOffered: ofSitting('dirty'),
    to: 'sitting',
    body: { requestedAction: 'go-on' },
  },
  {
    key: 's',
    name: () => say.stations.stopAndKeepWhat,
    isOffered: ({ sitting }) => sitting !== null && sitting.state !== 'settling',
    to: 'sitting',
    body: { requestedAction: 'stop' },
  },
  {
    // Another key than that of stopping: pressed twice, that must not cost what is being weighed.
    key: 'w',
    name: () => say.stations.settleBySingleTurns,
    isOffered: (station) => ofSitting('settling')(station) && !readsBlocks(station.abilities),
    to: 'sitting',
    body: { requestedAction: 'hurry' },
  },
  {
    key: 'l',
    keyOnPage: 'Enter',
    name: ({ abilities }) =>
      readsBlocks(abilities) ? say.stations.lookAtItsTables : say.stations.lookAtTheFirst,
    isOffered: (station) => isIdle(station) && isOriginal(station),
    isPrimary: always,
    to: 'station',
    body: { action: 'start', unattended: false },
  },
  {
    key: 'u',
    name: () => say.stations.readItAllUnattended,
    isOffered: (station) => isIdle(station) && isOriginal(station),
    to: 'station',
    body: { action: 'start', unattended: true },
  },
  {
    key: 'x',
    name: () => say.stations.giveTheTestUp,
    isOffered: isTesting,
    to: 'station',
    body: { action: 'end-test' },
    whileBusy: true,
  },
  {
    key: 't',
    name: ({ medium }) => say.stations.testTheDriveWith({ code: medium!.code }),
    isOffered: (station) => isIdle(station) && station.medium?.isReference === true,
    isPrimary: always,
    to: 'station',
    body: { action: 'test' },
  },
  {
    key: 'n',
    name: ({ stack }) => say.stations.isInReadIt({ next: stack!.next }),
    isOffered: (station) => isIdle(station) && Boolean(station.stack?.next),
    isPrimary: always,
    to: 'station',
    body: { action: 'next' },
  },
  {
    key: 'o',
    name: ({ medium }) => say.stations.takeOut({ code: medium!.code }),
    isOffered: (station) => isIdle(station) && station.medium !== null,
    to: 'station',
    body: { action: 'remove' },
  },
  {
    key: 'c',
    name: ({ id }) => say.stations.headOfStationIsClean({ id }),
    isOffered: (station) =>
      isIdle(station) && station.medium === null && !readsBlocks(station.abilities),
    isPrimary: ({ cleaningDue }) => cleaningDue !== null,
    to: 'station',
    body: { action: 'clean' },
  },
  {
    key: 'e',
    name: () => say.stations.endTheStack,
    isOffered: (station) => isIdle(station) && station.stack !== null,
    to: 'station',
    body: { action: 'end-stack' },
  },
];

interface StationAction {
  key: string;
  keyOnPage: string;
  name: string;
  isPrimary: boolean;
  path: string;
  body: object;
  /** Whether it can be asked for now: a drive at work with something else takes nothing on. */
  isOpen: boolean;
}

/** What is offered at a station, in the order of its buttons. */
export function actionsAt(station: Station): StationAction[] {
  return RULES.filter(({ isOffered }) => isOffered(station)).map((rule) => ({
    key: rule.key,
    keyOnPage: rule.keyOnPage ?? rule.key,
    name: rule.name(station),
    isPrimary: rule.isPrimary?.(station) ?? false,
    path:
      rule.to === 'station'
        ? `/api/stations/${station.id}`
        : `/api/sittings/${station.sitting!.id}`,
    body: rule.body,
    isOpen: rule.to === 'sitting' || rule.whileBusy === true || !isBusy(station),
  }));
}

/** Those that a key may start now, from any page. */
export function keysAt(station: Station): StationAction[] {
  return actionsAt(station).filter(({ isOpen }) => isOpen);
}
