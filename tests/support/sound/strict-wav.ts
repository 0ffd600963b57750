/**
 * A strict reader of the WAVs that are written, made apart from the writer: it throws at whatever a
 * player of today may stumble over.
 */

interface StrictWav {
  channels: number;
  rateHz: number;
  bits: number;
  data: Buffer;
  unity: number | null;
  fraction: number | null;
  loops: { start: number; end: number; fraction: number; playCount: number }[];
}

const wrong = (what: string): never => {
  throw new Error(`WAV: ${what}`);
};

function chunks(file: Buffer): Map<string, Buffer> {
  if (file.toString('latin1', 0, 4) !== 'RIFF' || file.toString('latin1', 8, 12) !== 'WAVE')
    wrong('it does not begin as one');
  if (file.readUInt32LE(4) !== file.length - 8) wrong('its size is not that of the file');
  const found = new Map<string, Buffer>();
  let at = 12;
  while (at < file.length) {
    const id = file.toString('latin1', at, at + 4);
    const size = file.readUInt32LE(at + 4);
    if (at + 8 + size > file.length) wrong(`${id} is larger than the file`);
    if (found.has(id)) wrong(`${id} stands twice`);
    found.set(id, file.subarray(at + 8, at + 8 + size));
    at += 8 + size;
    if (size % 2 === 1 && file[at++] !== 0) wrong(`${id} is not padded by a zero`);
  }
  return found;
}

export function strictWav(file: Buffer): StrictWav {
  const found = chunks(file);
  const names = [...found.keys()];
  if (names.indexOf('fmt ') > names.indexOf('data')) wrong('fmt stands behind data');
  const format = found.get('fmt ') ?? wrong('it has no format');
  const data = found.get('data') ?? wrong('it has no data');
  const [channels, rateHz] = [format.readUInt16LE(2), format.readUInt32LE(4)];
  const [align, bits] = [format.readUInt16LE(12), format.readUInt16LE(14)];
  if (format.length !== 16 || format.readUInt16LE(0) !== 1) wrong('it is not linear');
  if (align !== (channels * bits) / 8) wrong('its frames have another size');
  if (format.readUInt32LE(8) !== rateHz * align) wrong('its bytes a second are others');
  if (data.length % align !== 0) wrong('its last frame is cut');
  const smpl = found.get('smpl');
  if (!smpl) return { channels, rateHz, bits, data, unity: null, fraction: null, loops: [] };
  const count = smpl.readUInt32LE(0x1c);
  if (smpl.length !== 36 + 24 * count) wrong('smpl has another size than its loops');
  if (smpl.readUInt32LE(8) !== Math.round(1e9 / rateHz))
    wrong('its period is not that of its rate');
  const frames = data.length / align;
  const loops = Array.from({ length: count }, (_, i) => {
    const at = 36 + 24 * i;
    const [start, end] = [smpl.readUInt32LE(at + 8), smpl.readUInt32LE(at + 12)];
    if (smpl.readUInt32LE(at + 4) !== 0) wrong('a loop goes otherwise than forward');
    if (start > end || end >= frames) wrong('a loop lies outside the frames');
    return {
      start,
      end,
      fraction: smpl.readUInt32LE(at + 16),
      playCount: smpl.readUInt32LE(at + 20),
    };
  });
  const [unity, fraction] = [smpl.readUInt32LE(0x0c), smpl.readUInt32LE(0x10)];
  if (unity > 127) wrong('its note is none');
  return { channels, rateHz, bits, data, unity, fraction, loops };
}
