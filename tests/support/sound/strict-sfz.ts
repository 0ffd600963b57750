/** A strict reader of the SFZ texts that are written: regions with opcodes that it knows, each once. */

const NUMBERS: Readonly<Record<string, readonly [number, number]>> = {
  lokey: [0, 127],
  hikey: [0, 127],
  lovel: [0, 127],
  hivel: [0, 127],
  pitch_keycenter: [0, 127],
  transpose: [-127, 127],
  tune: [-100, 100],
  loop_start: [0, 2 ** 32],
  loop_end: [0, 2 ** 32],
  offset: [0, 2 ** 32],
  end: [0, 2 ** 32],
  pan: [-100, 100],
  volume: [-144, 6],
};
const MODES = ['no_loop', 'one_shot', 'loop_continuous', 'loop_sustain'];

export interface StrictRegion {
  sample: string;
  loop_mode: string;
  [opcode: string]: string | number;
}

export function strictSfz(text: string): StrictRegion[] {
  if (text.includes('\r') || text.includes('\t')) throw new Error('SFZ: odd white space');
  return text
    .split('<region>')
    .slice(1)
    .map((part) => {
      const region: StrictRegion = { sample: '', loop_mode: '' };
      for (const line of part.split('\n').filter((each) => each !== '')) {
        const isSample = line.startsWith('sample=');
        for (const word of isSample ? [line] : line.split(' ')) put(region, word);
      }
      if (!region.sample || !region.loop_mode) throw new Error('SFZ: a region lacks something');
      return region;
    });
}

function put(region: StrictRegion, word: string): void {
  const [, name, value] = /^([a-z_]+)=(.+)$/.exec(word) ?? [];
  if (!name || value === undefined) throw new Error(`SFZ: ${word} is no opcode`);
  if (region[name]) throw new Error(`SFZ: ${name} stands twice`);
  if (name === 'sample') {
    if (!/^[A-Za-z0-9 _+\-.()#/]+$/.test(value) || value.startsWith('#'))
      throw new Error(`SFZ: ${value} is no path`);
    region.sample = value;
    return;
  }
  if (name === 'loop_mode') {
    if (!MODES.includes(value)) throw new Error(`SFZ: ${value} is no mode`);
    region.loop_mode = value;
    return;
  }
  const range = NUMBERS[name];
  const number = Number(value);
  if (!range || !Number.isFinite(number) || number < range[0] || number > range[1])
    throw new Error(`SFZ: ${word} can't be`);
  region[name] = number;
}
