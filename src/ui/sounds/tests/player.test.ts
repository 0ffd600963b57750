/** What the player asks of the browser's sound: pitch, loop, ends, voices that replace each other. */
import { Peaks } from '@/core/sound/peaks';
import { Player } from '../player';
import type { Heard } from '../sound-source';

interface Source {
  rate: number;
  isLooped: boolean;
  loop: [number, number];
  /** When, from where, for how long, in seconds. */
  started: (number | undefined)[] | null;
  stopped: number | null;
  end(): void;
}

let sources: Source[];
let gains: { fade: [number, number, number] | null; at: number }[];
let pans: number[];
let now: number;

class Node {
  connect<T>(next: T): T {
    return next;
  }
}

/** As much of the browser's sound as the player uses, which notes what it is told. */
function madeUpSound(): void {
  sources = [];
  gains = [];
  pans = [];
  now = 10;
  class AudioBufferSourceNode extends Node {
    playbackRate = { value: 1 };
    loop = false;
    loopStart = 0;
    loopEnd = 0;
    onended: (() => void) | null = null;
    private readonly told: Source;

    constructor() {
      super();
      // eslint-disable-next-line @typescript-eslint/no-this-alias -- what is noted is looked up late
      const node = this;
      this.told = {
        get rate() {
          return node.playbackRate.value;
        },
        get isLooped() {
          return node.loop;
        },
        get loop(): [number, number] {
          return [node.loopStart, node.loopEnd];
        },
        started: null,
        stopped: null,
        end: () => node.onended?.(),
      };
      sources.push(this.told);
    }
    start(...times: (number | undefined)[]) {
      this.told.started = times;
    }
    stop(at: number) {
      this.told.stopped = at;
    }
  }
  class GainNode extends Node {
    gain = { setTargetAtTime: (...fade: [number, number, number]) => void (this.told.fade = fade) };
    private readonly told: (typeof gains)[0];
    constructor(_: unknown, { gain }: { gain: number }) {
      super();
      this.told = { fade: null, at: gain };
      gains.push(this.told);
    }
  }
  class StereoPannerNode extends Node {
    constructor(_: unknown, { pan }: { pan: number }) {
      super();
      pans.push(pan);
    }
  }
  class AnalyserNode extends Node {
    getFloatTimeDomainData(wave: Float32Array) {
      wave.set([0.25, -0.75, 0.5]);
    }
  }
  class AudioContext {
    destination = new Node();
    get currentTime() {
      return now;
    }
    resume = async () => undefined;
    close = async () => undefined;
    createBuffer = (_channels: number, length: number, sampleRate: number) => ({
      length,
      sampleRate,
      copyToChannel: () => undefined,
    });
  }
  Object.assign(globalThis, {
    AudioBufferSourceNode,
    GainNode,
    StereoPannerNode,
    AnalyserNode,
    AudioContext,
  });
}
beforeEach(madeUpSound);

const heard = (over: Partial<Heard> = {}): Heard => {
  const values = new Float32Array(1000);
  return {
    name: 'HORN',
    rateHz: 10_000,
    values,
    peaks: new Peaks(values),
    loop: null,
    loops: [],
    start: 0,
    end: 999,
    doubts: [],
    ...over,
  };
};
const LOOP = { startFrame: 200, endFrame: 600 };

test('a sound is played once, from its first frame to its last', () => {
  const player = new Player();
  player.play(heard({ start: 100, end: 899 }), { name: 'a', isLooped: false });
  expect(sources.map(({ rate, isLooped, started }) => [rate, isLooped, started])).toEqual([
    [1, false, [0, 0.01, 0.08]],
  ]);
  expect([gains[0]!.at, pans]).toEqual([1, [0]]);
});

test('looped, it has no end, and its loop lies where it is recorded', () => {
  const player = new Player();
  player.play(heard({ loop: LOOP }), { name: 'a', isLooped: true });
  expect(sources[0]).toMatchObject({ isLooped: true, loop: [0.02, 0.06] });
  expect(sources[0]!.started).toEqual([0, 0, undefined]);
});

test.each([
  [1200, 2],
  [-1200, 0.5],
  [100, 2 ** (1 / 12)],
])('%d cents off it is played %d times as fast', (cents, rate) => {
  const player = new Player();
  player.play(heard(), { name: 'a', isLooped: false, pitch: { cents, loudness: 0.5, pan: -1 } });
  expect(sources[0]!.rate).toBeCloseTo(rate, 9);
  expect([gains[0]!.at, pans]).toEqual([0.5, [-1]]);
});

test.each([
  [4000, 8000, 0.5],
  [192_000, 96_000, 2],
])('a rate of %d Hz, which no buffer has, is made of one of %d', (rateHz, _, rate) => {
  const player = new Player();
  player.play(heard({ rateHz }), { name: 'a', isLooped: false });
  expect(sources[0]!.rate).toBe(rate);
});

test('a voice replaces that of its name, and the end of the one before is not its own', () => {
  const player = new Player();
  const ended: string[] = [];
  player.play(heard(), { name: 'a', isLooped: false, onEnd: () => ended.push('first') });
  player.play(heard(), { name: 'a', isLooped: false, onEnd: () => ended.push('second') });
  expect(sources[0]!.stopped).toBeGreaterThan(now);
  expect(gains[0]!.fade?.[0]).toBe(0);
  sources[0]!.end();
  expect(ended).toEqual([]);
  sources[1]!.end();
  expect([ended, player.frameOf('a')]).toEqual([['second'], null]);
});

test('where a voice is, also round its loop', () => {
  const player = new Player();
  expect(player.frameOf('a')).toBeNull();
  player.play(heard({ loop: LOOP }), { name: 'a', isLooped: true, from: 50 });
  now += 0.05;
  expect(player.frameOf('a')).toBeCloseTo(550, 6);
  now += 0.025;
  // 800 by now, and 400 a round from 200 on.
  expect(player.frameOf('a')).toBeCloseTo(400, 6);
  player.playOut('a');
  now += 1;
  expect([sources[0]!.isLooped, player.frameOf('a')]).toEqual([false, 999]);
});

test('what has no frame ends at once, and nothing is begun', () => {
  const player = new Player();
  const ended = jest.fn();
  player.play(heard({ values: new Float32Array(0), end: -1 }), {
    name: 'a',
    isLooped: false,
    onEnd: ended,
  });
  expect([ended.mock.calls.length, sources.length, player.level()]).toEqual([1, 0, 0]);
});

test('the level is the greatest value that goes out, and closing silences all', async () => {
  const player = new Player();
  player.play(heard(), { name: 'a', isLooped: false });
  player.play(heard(), { name: 'b', isLooped: false });
  expect(player.level()).toBe(0.75);
  await player.close();
  expect(sources.map(({ stopped }) => stopped !== null)).toEqual([true, true]);
  expect([player.analyser, player.level(), player.frameOf('a')]).toEqual([null, 0, null]);
});
