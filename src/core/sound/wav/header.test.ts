/** The WAV header, byte by byte. */
import { DISC_PCM, WAV_HEADER_BYTES, wavHeader } from './header';

test('a header of two channels, 44,100 frames, 16 bits', () => {
  expect(Buffer.from(wavHeader(2352, DISC_PCM)).toString('hex')).toBe(
    `${Buffer.from('RIFF').toString('hex')}54090000${Buffer.from('WAVEfmt ').toString('hex')}100000000100020044ac000010b1020004001000${Buffer.from('data').toString('hex')}30090000`,
  );
  expect(wavHeader(0, DISC_PCM)).toHaveLength(WAV_HEADER_BYTES);
});

test('more than RIFF can hold is refused', () =>
  expect(() => wavHeader(2 ** 32, DISC_PCM)).toThrow(RangeError));
