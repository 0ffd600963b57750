/** Whether work failed because there was no room: disk_full (PostgreSQL manual, appendix A), ENOSPC. */
import { causesOf } from './causes';

const CODES = /^(53100|ENOSPC)$/;
/** Of the database's own files the system's words come through. */
const WORDS = /No space left on device/;

export const isDiskFull = (error: unknown): boolean =>
  causesOf(error).some(
    ({ code, message }) => CODES.test(String(code)) || WORDS.test(String(message)),
  );
