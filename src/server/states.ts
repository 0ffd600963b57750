import type { Said } from '@/core/said';
import type { BlockMedium } from '@/core/block/device';
import type { Pace } from '@/core/block/extent-map';
import type { Landmark } from '@/core/identify/landmarks';
import type { DiscTrack } from '@/core/optical/disc-tracks';
import type { Grade } from '@/core/reading/grades';

/**
 * States and kinds of what the server keeps, frozen; used by schema, services, pages and tests
 * alike.
 */

export const SITTING_STATES = Object.freeze([
  'waiting',
  'reading',
  'asks',
  'dirty',
  'paused',
  'held',
  'settling',
  'done',
  'failed',
] as const);
/**
 * `asks` how far to read, once the first tracks were looked at; `dirty`: the head wants cleaning
 * before it goes on; `paused` by a person, `held` by the bench until it is back.
 */
export type SittingState = (typeof SITTING_STATES)[number];

export const WRITEBACK_STATES = Object.freeze([
  'waiting',
  'writing',
  'held',
  'asks',
  'proved',
  'unproved',
  'failed',
] as const);
/** `asks`: something is on the target, and a person must say whether it may go. */
export type WritebackState = (typeof WRITEBACK_STATES)[number];

/** What came of the trial in the old machine, or in an emulator of it. */
export const OUTCOMES = Object.freeze(['works', 'does-not', 'not-tried'] as const);
export type Outcome = (typeof OUTCOMES)[number];

/**
 * What was on the target before anything was written: `held` where all that was looked at is kept
 * here as `heldAs`.
 */
export interface TargetFound {
  state: 'blank' | 'formatted' | 'held' | 'data';
  sectors: number;
  layout: string | null;
  label: string | null;
  files: string[];
  heldAs: string | null;
}

/**
 * A write-back to a device of blocks: how far it is, and blocks that did not come back as they were
 * written.
 */
export interface BlocksWritten {
  blockBytes: number;
  blocks: number;
  written: number;
  proved: number;
  failed: { from: number; to: number }[];
}

export const TRANSFER_STATES = Object.freeze([
  'waiting',
  'typing',
  'sending',
  'held',
  'done',
  'failed',
] as const);
export type TransferState = (typeof TRANSFER_STATES)[number];

export const BLOB_STATES = Object.freeze(['growing', 'sealed', 'same'] as const);
export type BlobState = (typeof BLOB_STATES)[number];

export const LEDGER_KINDS = Object.freeze([
  'registered',
  'described',
  'lot',
  'lender',
  'machine',
  'placed',
  'removed',
  'cleaned',
  'sitting-started',
  'sitting-paused',
  'sitting-resumed',
  'sitting-held',
  'sitting-stopped',
  'track',
  'fair-copy',
  'taken-in',
  'handed-out',
  'permitted',
  'parcel',
  'writeback-started',
  'writeback-asked',
  'writeback-ended',
  'writeback-outcome',
  'writeback-queued',
  'layout-added',
  'layout-removed',
  'verdict',
  'sitting-preview',
  'confirmed',
  'head-dirty',
  'self-test',
  'stack',
  'set',
  'paper-added',
  'paper-removed',
  'setting-kept',
  'settling-hurried',
  'rule-added',
  'rule-removed',
  'scanned',
  'related',
  'withdrawn',
  'reinstated',
  'merged',
  'extracted',
  'blocks',
  'device',
  'memory-card',
  'transfer',
  'fixity',
  'elsewhere',
  'arrived',
  'handed-back',
  'sent-out',
  'came-back',
  'folder-opened',
  'folder-closed',
] as const);
export type LedgerKind = (typeof LEDGER_KINDS)[number];

/**
 * What a receipt is given for: media that came to the house; that went back to their lender for good;
 * that went out for a while, and that are back from there.
 */
export const RECEIPT_KINDS = Object.freeze([
  'arrived',
  'handed-back',
  'sent-out',
  'came-back',
] as const);
export type ReceiptKind = (typeof RECEIPT_KINDS)[number];

export const SELF_TEST_STATES = Object.freeze([
  'waiting',
  'reading',
  'held',
  'done',
  'failed',
] as const);
export type SelfTestState = (typeof SELF_TEST_STATES)[number];

export const EXTRACT_STATES = Object.freeze([
  'waiting',
  'running',
  'done',
  'failed',
  'cancelled',
  'expired',
] as const);
export const EXTRACT_CONTENTS = Object.freeze(['files', 'images', 'sounds'] as const);
export type ExtractContent = (typeof EXTRACT_CONTENTS)[number];
export type ExtractState = (typeof EXTRACT_STATES)[number];

/**
 * Of two media that are alike: one was made from the other, or they are not the same whatever they
 * share.
 */
export const RELATION_KINDS = Object.freeze(['copy-of', 'not-the-same'] as const);
export type RelationKind = (typeof RELATION_KINDS)[number];

/**
 * A medium in the holdings that a disk is like while it is read: how many of the tracks compared
 * are the same.
 */
export interface DuplicateMatch {
  code: string;
  same: number;
  of: number;
}

/** What makes a medium be settled once more. */
export const SETTLING_CAUSES = Object.freeze([
  'layout',
  'setting',
  'verdict',
  'all-turns',
] as const);
export type SettlingCause = (typeof SETTLING_CAUSES)[number];
export interface SettlingAbout {
  layout?: string;
  cylinder?: number;
  head?: number;
}
/** Hurt tracks that are done, and how many there are. */
export interface SettlingProgress {
  done: number;
  of: number;
}
export const SETTLING_STATES = Object.freeze(['waiting', 'settling', 'done', 'failed'] as const);
export type SettlingState = (typeof SETTLING_STATES)[number];

/** What a file that was taken in turned out to be. */
export const FILE_KINDS = Object.freeze(['capture', 'image', 'disc', 'bag'] as const);
export type FileKind = (typeof FILE_KINDS)[number];

export const UPLOAD_STATES = Object.freeze([
  'coming',
  'waiting',
  'taking-in',
  'done',
  'refused',
] as const);
/** `coming` part by part; then a worker takes it in. */
export type UploadState = (typeof UPLOAD_STATES)[number];
export interface UploadAbout {
  code: string | null;
  set: string;
  number: number | null;
  /** Text of the cue sheet that lies beside it. */ cue: string | null;
  /** Of what came before they were asked for left out. */ lender?: string;
  lot?: string;
  /** Where it is known already. */ sha256?: string | null;
}

/** Where a hard disk came from. */
export interface DeviceOrigin {
  jumpers: string;
  notes: string;
}

/** What the device's own tables say of how far it is worth reading. */
export interface BlockPreview {
  sentence: Said;
  landmarks: Landmark[];
  to: number;
}

/**
 * What a settled image of a device keeps beside its bytes: runs of blocks, and the tracks of a raw
 * disc.
 */
export interface BlocksKept {
  blockBytes: number;
  blocks: number;
  /** From, the first behind, grade, tries, pace. */
  extents: [from: number, to: number, grade: Grade, tries: number, pace: Pace][];
  medium: BlockMedium | null;
  /** Of a raw disc: its tracks as they lie in the capture. */
  tracks: DiscTrack[];
  /** Several readings put together, and blocks in which they differ. */
  readings: number;
  differing: { from: number; to: number }[];
}

/** What may be laid beside a medium: pictures and papers, told by their first bytes. */
export const ATTACHMENT_TYPES = Object.freeze([
  'image/png',
  'image/jpeg',
  'image/gif',
  'image/webp',
  'application/pdf',
  'text/plain',
] as const);
export type AttachmentType = (typeof ATTACHMENT_TYPES)[number];

/** What goes back to a disk: the image laid out anew, or the capture's flux as it is. */
export const WRITEBACK_SOURCES = Object.freeze(['image', 'flux'] as const);
export type WritebackSource = (typeof WRITEBACK_SOURCES)[number];

/** Of an oddity: put there on purpose, and so never mended; or damage after all. */
export const VERDICTS = Object.freeze(['as-made', 'damage'] as const);
export type Verdict = (typeof VERDICTS)[number];

/** What spoke for a layout when a copy was settled. */
export interface LayoutEvidence {
  id: string;
  confidence: number;
  evidence: Said;
}

export const isRunning = (state: SittingState) =>
  state === 'waiting' || state === 'reading' || state === 'held' || state === 'settling';
/** Waits for a person, with nothing running. */
export const isResting = (state: SittingState) =>
  state === 'paused' || state === 'asks' || state === 'dirty';
