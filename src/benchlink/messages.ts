/**
 * Messages between the application and a bench, version 1; `docs/bench-protocol.md` is their
 * specification.
 * Declared once: types are inferred, and both sides check what they get.
 */
import { z } from 'zod';
import { ENCODING_IDS } from '@/core/layout/layout';
import { MEDIUM_FORMS } from '@/core/medium-form';
import { APPROACHES } from '@/core/reading/plan/approach';
import { TOLD_STATUSES } from '@/core/reading/controller/controller-tracks';

export const PROTOCOL = 'frail-spindle-bench';
export const PROTOCOL_VERSION = 1;
/** Most bytes of a line and of a payload. */
export const FRAME_LIMITS = Object.freeze({ line: 1 << 16, payload: 64 << 20 });

/** Why a device could not do it. */
const DEVICE_FAILURES = Object.freeze([
  'not-ready',
  'write-protected',
  'time-out',
  'medium-gone',
  'device-gone',
  'cancelled',
  'refused',
] as const);
type DeviceFailure = (typeof DEVICE_FAILURES)[number];

const count = z.int().min(0);

export const Greeting = z.object({
  hello: z.literal(PROTOCOL),
  version: z.literal(PROTOCOL_VERSION),
  bench: z.string().max(200),
  /** The bench is simulated: it has a shelf, and hands that put media in. */
  simulated: z.boolean(),
  /** Nothing is done for a connection before it has shown the token that the bench was given. */
  wantsToken: z.boolean().default(false),
});

const named = { id: z.string().max(40), model: z.string().max(200), serial: z.string().max(200) };

export const TrackDriveDescription = z.object({
  ...named,
  form: z.enum(['8', '5.25', '3.5']),
  cylinders: count.max(256),
  heads: count.max(2),
  tickHz: z.int().min(100_000),
  rpm: z.number(),
  /** Transitions as they come; or sectors, with what the drive says of each. */
  delivers: z.enum(['flux', 'sectors']),
  writes: z.boolean(),
});
export type TrackDriveDescription = z.infer<typeof TrackDriveDescription>;

export const BlockDriveDescription = z.object({
  ...named,
  form: z.enum(['hard-disk', 'optical-disc']),
  delivers: z.literal('blocks'),
  writes: z.boolean(),
  /** How it is connected. */
  bus: z.string().max(80),
  /** Speeds that it can be set to, fastest first, in its own unit; none where it can't. */
  speeds: z.array(z.number().positive()).max(16),
});
export type BlockDriveDescription = z.infer<typeof BlockDriveDescription>;

export const DriveDescription = z.discriminatedUnion('delivers', [
  TrackDriveDescription,
  BlockDriveDescription,
]);
export type DriveDescription = z.infer<typeof DriveDescription>;

export const DriveStatus = z.object({
  ready: z.boolean(),
  medium: z.boolean(),
  writeProtected: z.boolean(),
  cylinder: count,
});
export type DriveStatus = z.infer<typeof DriveStatus>;

export const ShelfItem = z.object({
  label: z.string().max(80),
  form: z.enum(MEDIUM_FORMS),
  describes: z.string().max(300),
  blank: z.boolean(),
  inDrive: z.string().nullable(),
});
export type ShelfItem = z.infer<typeof ShelfItem>;

/** A serial line to a machine with no other way in. */
export const LineDescription = z.object({
  id: z.string().max(40),
  name: z.string().max(200),
  rates: z.array(z.int().min(50)).min(1).max(32),
});
export type LineDescription = z.infer<typeof LineDescription>;

const id = z.int().min(1);
const drive = z.string().max(40);
const place = { cylinder: count.max(255), head: count.max(1) };

/** Most blocks of one request. */
const MAX_BLOCKS = 65_536;

export const Request = z.discriminatedUnion('op', [
  z.object({ id, op: z.literal('admit'), token: z.string().max(200) }),
  z.object({ id, op: z.literal('drives') }),
  z.object({ id, op: z.literal('status'), drive }),
  z.object({
    id,
    op: z.literal('read-track'),
    drive,
    ...place,
    pass: count,
    revolutions: z.int().min(1).max(20),
    approach: z.enum(APPROACHES),
  }),
  z.object({
    id,
    op: z.literal('read-sectors'),
    drive,
    ...place,
    pass: count,
    approach: z.enum(APPROACHES),
  }),
  z.object({
    id,
    op: z.literal('write-track'),
    drive,
    ...place,
    index: z.array(count).max(4096),
    payload: count.max(FRAME_LIMITS.payload),
  }),
  z.object({ id, op: z.literal('block-medium'), drive }),
  z.object({
    id,
    op: z.literal('read-blocks'),
    drive,
    from: count,
    count: z.int().min(1).max(MAX_BLOCKS),
    speed: z.number().positive().nullable(),
    flags: z.boolean(),
  }),
  z.object({
    id,
    op: z.literal('write-blocks'),
    drive,
    from: count,
    count: z.int().min(1).max(MAX_BLOCKS),
    payload: count.max(FRAME_LIMITS.payload),
  }),
  z.object({ id, op: z.literal('lines') }),
  z.object({ id, op: z.literal('line-open'), line: drive, rate: z.int().min(50) }),
  z.object({ id, op: z.literal('line-send'), line: drive, payload: count.max(65_536) }),
  z.object({ id, op: z.literal('line-receive'), line: drive, waitMs: count.max(20_000) }),
  z.object({ id, op: z.literal('cancel'), target: id }),
  // What a person does at a real bench; only a simulated one has hands.
  z.object({ id, op: z.literal('hand-shelf') }),
  z.object({ id, op: z.literal('hand-insert'), drive, label: z.string().max(80) }),
  z.object({ id, op: z.literal('hand-remove'), drive }),
  z.object({ id, op: z.literal('hand-clean'), drive }),
  /**
   * At the other end of a line: starts its receiving program, or lets the line hurt one message in
   * so many (0: none).
   */
  z.object({
    id,
    op: z.literal('hand-line'),
    line: drive,
    receive: z.object({ crc: z.boolean(), large: z.boolean() }).optional(),
    noise: count.optional(),
  }),
  z.object({
    id,
    op: z.literal('hand-fault'),
    drive,
    fault: z.enum(['not-ready', 'write-protected', 'time-out', 'medium-gone', 'device-gone']),
    after: count,
  }),
]);
export type Request = z.infer<typeof Request>;
export type RequestBody = Request extends infer R
  ? R extends Request
    ? Omit<R, 'id'>
    : never
  : never;

export const Response = z.union([
  z.object({
    id,
    ok: z.literal(true),
    result: z.unknown(),
    payload: count.max(FRAME_LIMITS.payload).optional(),
  }),
  z.object({
    id,
    ok: z.literal(false),
    failure: z.enum(DEVICE_FAILURES),
    message: z.string().max(2000),
  }),
]);
export type Response = z.infer<typeof Response>;

export const TrackResult = z.object({ ...place, pass: count, index: z.array(count).max(4096) });

/**
 * A track as a drive tells it that delivers sectors; the payload holds the bytes of all of them, in
 * their order.
 */
export const SectorsResult = z.object({
  ...place,
  pass: count,
  encoding: z.enum(ENCODING_IDS),
  rateKbps: z.number().positive(),
  sectors: z
    .array(
      z.object({
        c: count.max(255),
        h: count.max(255).nullable(),
        r: count.max(255),
        n: count.max(255).nullable(),
        size: count.max(32768),
        status: z.enum(TOLD_STATUSES),
      }),
    )
    .max(256),
});

/**
 * Blocks as far as they came; the payload holds their bytes and, behind those of all, their flags
 * where they were asked for and the drive has them.
 */
export const BlocksResult = z.object({
  got: count.max(MAX_BLOCKS),
  /** Why the next block did not come; null where all did. */
  stopped: z.object({ why: z.enum(['unreadable', 'time-out']), toldWhere: z.boolean() }).nullable(),
  /** Milliseconds that the drive took. */
  ms: z.number().min(0),
  flags: z.boolean(),
});

/** A device's refusal or failure, as a value with a name. */
export class DeviceError extends Error {
  constructor(
    readonly failure: DeviceFailure,
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}
