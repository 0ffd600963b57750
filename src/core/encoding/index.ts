export * from './encoding';
export { createMfm } from './mfm/mfm';
export { isDeletedMark } from './mfm/marks';
