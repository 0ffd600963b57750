/** Every kind of long work: what it is asked with, and how much of it one worker does at once. */
import { z } from 'zod';

const RowNumber = z.int().min(1);

interface JobKindRules {
  /** What a job of this kind is asked with; `subject` of the row is its one number. */
  payload: z.ZodType<Record<string, number>>;
  /** How many of it one worker does at once. */
  slots: number;
  /** Workers that may die of it before it is set aside. */
  mostCrashes: number;
  /** What a full disk stopped begins anew once there is room; what works at a drive rests instead. */
  waitsForRoom: boolean;
}

/** What dies of what it computes dies again. */
const COMPUTES = 3;
/** What works at a drive keeps each step, and a worker that dies says little against it. */
const WORKS_AT_A_DRIVE = 10;

/** `subject` names the row that the work is about, so that it can be found again. */
export const JOB_RULES = Object.freeze({
  sitting: {
    payload: z.strictObject({ sittingId: RowNumber }),
    slots: 8,
    mostCrashes: WORKS_AT_A_DRIVE,
    waitsForRoom: false,
  },
  writeback: {
    payload: z.strictObject({ writebackId: RowNumber }),
    slots: 8,
    mostCrashes: WORKS_AT_A_DRIVE,
    waitsForRoom: false,
  },
  'self-test': {
    payload: z.strictObject({ selfTestId: RowNumber }),
    slots: 4,
    mostCrashes: WORKS_AT_A_DRIVE,
    waitsForRoom: false,
  },
  settle: {
    payload: z.strictObject({ settlingId: RowNumber }),
    slots: 2,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  assembly: {
    payload: z.strictObject({ assemblyId: RowNumber }),
    slots: 2,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  scan: {
    payload: z.strictObject({ operatorId: RowNumber }),
    slots: 1,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  extract: {
    payload: z.strictObject({ extractId: RowNumber }),
    slots: 2,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  intake: {
    payload: z.strictObject({ uploadNumber: RowNumber }),
    slots: 2,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  alike: {
    payload: z.strictObject({ mediumId: RowNumber }),
    slots: 1,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  sounds: {
    payload: z.strictObject({ fairCopyId: RowNumber }),
    slots: 1,
    mostCrashes: COMPUTES,
    waitsForRoom: true,
  },
  transfer: {
    payload: z.strictObject({ transferId: RowNumber }),
    slots: 4,
    mostCrashes: WORKS_AT_A_DRIVE,
    waitsForRoom: false,
  },
  /** One for the whole house, which goes on as long as there is a second store. */
  'second-store': {
    payload: z.strictObject({ stores: RowNumber }),
    slots: 1,
    mostCrashes: WORKS_AT_A_DRIVE,
    waitsForRoom: false,
  },
} satisfies Record<string, JobKindRules>);

export type JobKind = keyof typeof JOB_RULES;
export type JobPayload<K extends JobKind = JobKind> = z.infer<(typeof JOB_RULES)[K]['payload']>;

export const JOB_KINDS = Object.freeze(Object.keys(JOB_RULES) as JobKind[]);

export const JOB_STATES = Object.freeze(['waiting', 'running', 'done', 'failed'] as const);
export type JobState = (typeof JOB_STATES)[number];

/** Jobs of all kinds that one worker does at once: fewer than its pool has connections. */
export const MAX_JOBS_AT_ONCE = 15;

/** The one number of a payload that was checked. */
export function subjectOf<K extends JobKind>(payload: JobPayload<K>): number {
  return Object.values(payload)[0] as number;
}
