/** Events of a medium that go along in a parcel: as they were noted, and in words. */
import { z } from 'zod';
import { KeptSaid } from './copy-record';

export const EventRecord = z.strictObject({
  at: z.iso.datetime(),
  /** Of the ledger that has it. */
  kind: z.string().max(40),
  /** Who was at work; empty where it was the application. */
  who: z.string().max(200),
  what: KeptSaid,
  told: z.string().describe('the same in words'),
});
export type EventRecord = z.output<typeof EventRecord>;

/** What the ledger keeps of an event of another house, beside the day it came. */
export const Elsewhere = EventRecord.omit({ told: true });

/** Of a medium, oldest first. */
export const EventsFile = z.strictObject({
  format: z.literal('frail-spindle-events'),
  version: z.literal(1),
  events: z.array(EventRecord),
});
export type EventsFile = z.output<typeof EventsFile>;

/** JSON Schema of it. */
export const eventsJsonSchema = () => ({
  title: 'Events of a medium in a parcel',
  ...z.toJSONSchema(EventsFile, { io: 'input' }),
});
