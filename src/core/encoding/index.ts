export * from './encoding';
export { createEncodings, encodingOf } from './encodings';
export { isDeletedMark } from './id-mark/marks';
export { classifyFlux, type FluxClass } from './recovery/rate';
export {
  addGains,
  firstAtOrAfter,
  gainsOfWindow,
  RUNS,
  type CellGains,
} from './recovery/cell-gains';
export { LOOPS, recoverByLoop } from './recovery/loop';
