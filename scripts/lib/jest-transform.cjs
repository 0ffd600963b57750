/**
 * TypeScript for Jest, by swc. Jest runs tests in a context whose globals are looked up anew at
 * each use, which makes `Math.round` in a loop over flux twenty times slower than it is in a
 * process: what loops use is bound once a module.
 */
const { createTransformer } = require('@swc/jest');

const BOUND = [
  'Infinity',
  'NaN',
  'Map',
  'Set',
  'Math',
  'Number',
  'Array',
  'Uint8Array',
  'Int8Array',
  'Int16Array',
  'Uint16Array',
  'Int32Array',
  'Uint32Array',
  'Float32Array',
  'Float64Array',
  'DataView',
];

module.exports = {
  createTransformer(options) {
    const transformer = createTransformer(options);
    return {
      ...transformer,
      // What it binds is part of what Jest keeps its results by.
      getCacheKey: (...given) => `${BOUND.join()} ${transformer.getCacheKey(...given)}`,
      process(source, file, settings) {
        const result = transformer.process(source, file, settings);
        const free = BOUND.filter(
          (name) => !new RegExp(`\\b(class|function|const|let) ${name}\\b`).test(source),
        );
        // On the first line, so that every line keeps its number.
        const bound = free.map((name) => `${name}=globalThis.${name}`).join(',');
        return { ...result, code: result.code.replace(/^("use strict";)?/, `$1const ${bound};`) };
      },
    };
  },
};
