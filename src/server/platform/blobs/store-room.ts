/**
 * Room on the disk that holds everything: looked at before much is written, so that it is told in
 * words before it is full. What is read already is never given up for it.
 */
import { statfs } from 'node:fs/promises';
import { said } from '@/core/said';
import { config } from '../config';
import { UserError } from '../errors';

const MIB = 2 ** 20;
/** Told from here on: so many times what is kept free. */
const TOLD_AT = 4;

export interface StoreRoom {
  /** Bytes that may still be written; null where nothing says how many. */
  free: number | null;
  /** Bytes that are kept free. */
  reserve: number;
  isLow: boolean;
}

export async function storeRoom(): Promise<StoreRoom> {
  const { SPINDLE_STORE, SPINDLE_RESERVE_MIB } = config();
  const reserve = SPINDLE_RESERVE_MIB * MIB;
  const there = SPINDLE_STORE === '' ? null : await statfs(SPINDLE_STORE).catch(() => null);
  const free = there && there.bavail * there.bsize;
  return { free, reserve, isLow: free !== null && free < TOLD_AT * reserve };
}

const leaves = ({ free, reserve }: StoreRoom, bytes: number): boolean =>
  free === null || free - bytes >= reserve;

/** Whether so many bytes more leave what is kept free. */
export const hasRoomFor = async (bytes: number): Promise<boolean> =>
  leaves(await storeRoom(), bytes);

/** Whether what stopped for want of room may go on: more than what is kept free, not to stop at once. */
export async function hasRoomToGoOn(): Promise<boolean> {
  const room = await storeRoom();
  return leaves(room, room.reserve);
}

/** Throws UserError (507) where there is no room for so many bytes more. */
export async function refuseWithoutRoom(bytes: number): Promise<void> {
  const room = await storeRoom();
  if (!leaves(room, bytes))
    throw new UserError(said('platform.noRoomFor', { bytes, free: room.free ?? 0 }), 507);
}
