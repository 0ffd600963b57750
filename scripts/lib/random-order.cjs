/** Runs test files in the order of `SPINDLE_TEST_SEED`, which `npm test` chooses anew each time. */
const Sequencer = require('@jest/test-sequencer').default;

const seed = process.env.SPINDLE_TEST_SEED ?? '';

/** FNV-1a, 32 bits: a place for each file that only the seed decides. */
const placeOf = (path) =>
  [...(seed + path)].reduce(
    (hash, letter) => Math.imul(hash ^ letter.charCodeAt(0), 0x01000193),
    0x811c9dc5,
  );

module.exports = class RandomOrder extends Sequencer {
  sort(tests) {
    return [...tests].sort((a, b) => placeOf(a.path) - placeOf(b.path));
  }
};
