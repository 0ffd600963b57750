/** Frames of the bench protocol: cut anywhere, joined anyhow, and hostile. */
import fc from 'fast-check';
import { encodeFrame, FrameReader, FramingError } from './framing';

test('frames come out as they went in, however the stream is cut', () => {
  const frame = fc.record({
    message: fc.record({ id: fc.nat(), op: fc.string() }),
    payload: fc.option(fc.uint8Array({ maxLength: 3000 }), { nil: undefined }),
  });
  fc.assert(
    fc.property(
      fc.array(frame, { minLength: 1, maxLength: 8 }),
      fc.integer({ min: 1, max: 700 }),
      (frames, size) => {
        const bytes = new Uint8Array(
          Buffer.concat(frames.map(({ message, payload }) => encodeFrame(message, payload))),
        );
        const reader = new FrameReader();
        const out = [];
        for (let at = 0; at < bytes.length; at += size)
          out.push(...reader.push(bytes.subarray(at, at + size)));
        expect(out.map(({ message: { id, op } }) => ({ id, op }))).toEqual(
          frames.map(({ message }) => message),
        );
        expect(out.map(({ payload }) => Buffer.from(payload).toString('hex'))).toEqual(
          frames.map(({ payload }) => Buffer.from(payload ?? []).toString('hex')),
        );
      },
    ),
    { numRuns: 100 },
  );
});

test.each([
  ['a line that never ends', 'x'.repeat(70_000)],
  ['no JSON', 'hello\n'],
  ['an array', '[1]\n'],
  ['a payload too large', '{"payload":99999999999}\n'],
  ['a negative payload', '{"payload":-1}\n'],
  ['a payload that is text', '{"payload":"9"}\n'],
])('%s is refused', (_, line) => {
  expect(() => new FrameReader().push(new TextEncoder().encode(line))).toThrow(FramingError);
});
