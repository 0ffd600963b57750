/**
 * What is heard: voices of samples, at their own pitch or that of a key, looped as their machine
 * would, through one meter.
 */
import type { Heard } from './sound-source';

/** Rates that a buffer of sound may have; another is played as if it had one of them. */
const RATES = { least: 8000, most: 96_000 } as const;
/** Seconds in which a voice dies away that is let go. */
const RELEASE = 0.03;
const METER_FRAMES = 2048;

export interface Pitch {
  /** Off the sample's own pitch. */
  cents: number;
  /** From 0 to 1. */
  loudness: number;
  /** From −1 to 1. */
  pan: number;
}

interface VoiceAsked {
  /** Frame from which it is played. */
  from?: number;
  isLooped: boolean;
  pitch?: Pitch;
  /** Which replaces the voice of the same name. */
  name: string;
  onEnd?: () => void;
}

interface Voice {
  source: AudioBufferSourceNode;
  gain: GainNode;
  heard: Heard;
  from: number;
  startedAt: number;
  /** Frames of the sample in a second. */
  speed: number;
  isLooped: boolean;
}

export class Player {
  private context: AudioContext | null = null;
  private meter: AnalyserNode | null = null;
  private readonly voices = new Map<string, Voice>();
  private readonly buffers = new WeakMap<Heard, AudioBuffer>();
  private readonly wave = new Float32Array(METER_FRAMES);

  /** The meter, for what shows frequencies; null before the first sound. */
  get analyser(): AnalyserNode | null {
    return this.meter;
  }

  play(heard: Heard, { from = heard.start, isLooped, pitch, name, onEnd }: VoiceAsked): void {
    if (heard.values.length === 0) return onEnd?.();
    const context = this.begin();
    this.stop(name);
    const buffer = this.bufferOf(context, heard);
    const source = new AudioBufferSourceNode(context, { buffer });
    const speed = heard.rateHz * 2 ** ((pitch?.cents ?? 0) / 1200);
    source.playbackRate.value = speed / buffer.sampleRate;
    const loop = isLooped ? heard.loop : null;
    if (loop) {
      source.loop = true;
      source.loopStart = loop.startFrame / buffer.sampleRate;
      source.loopEnd = loop.endFrame / buffer.sampleRate;
    }
    const gain = new GainNode(context, { gain: pitch?.loudness ?? 1 });
    const panner = new StereoPannerNode(context, { pan: pitch?.pan ?? 0 });
    source.connect(gain).connect(panner).connect(this.meter!);
    const first = Math.min(from, heard.end);
    const length = (heard.end + 1 - first) / buffer.sampleRate;
    source.start(0, first / buffer.sampleRate, loop ? undefined : length);
    const startedAt = context.currentTime;
    const voice = { source, gain, heard, from: first, startedAt, speed, isLooped: loop !== null };
    this.voices.set(name, voice);
    source.onended = () => {
      if (this.voices.get(name) !== voice) return;
      this.voices.delete(name);
      onEnd?.();
    };
  }

  /** Lets a voice die away. */
  stop(name: string): void {
    const voice = this.voices.get(name);
    if (!voice || !this.context) return;
    this.voices.delete(name);
    const { currentTime } = this.context;
    voice.gain.gain.setTargetAtTime(0, currentTime, RELEASE / 3);
    voice.source.stop(currentTime + RELEASE);
  }

  /** Lets a voice leave its loop, and play what stands behind it. */
  playOut(name: string): void {
    const voice = this.voices.get(name);
    if (!voice) return;
    voice.source.loop = false;
    voice.isLooped = false;
  }

  stopAll(): void {
    for (const name of this.voices.keys()) this.stop(name);
  }

  async close(): Promise<void> {
    this.stopAll();
    const { context } = this;
    this.context = null;
    this.meter = null;
    await context?.close();
  }

  /** The frame that a voice is at; null where it is silent. */
  frameOf(name: string): number | null {
    const voice = this.voices.get(name);
    if (!voice || !this.context) return null;
    const { heard, from, startedAt, speed, isLooped } = voice;
    const at = from + (this.context.currentTime - startedAt) * speed;
    const { loop } = heard;
    if (!isLooped || !loop || at < loop.endFrame) return Math.min(at, heard.end);
    return loop.startFrame + ((at - loop.startFrame) % (loop.endFrame - loop.startFrame));
  }

  /** The greatest value that goes out just now. */
  level(): number {
    if (!this.meter) return 0;
    this.meter.getFloatTimeDomainData(this.wave);
    return this.wave.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  }

  private begin(): AudioContext {
    if (!this.context) {
      this.context = new AudioContext({ latencyHint: 'interactive' });
      this.meter = new AnalyserNode(this.context, { fftSize: METER_FRAMES });
      this.meter.connect(this.context.destination);
    }
    void this.context.resume();
    return this.context;
  }

  private bufferOf(context: AudioContext, heard: Heard): AudioBuffer {
    const there = this.buffers.get(heard);
    if (there) return there;
    const sampleRate = Math.max(RATES.least, Math.min(RATES.most, heard.rateHz));
    const buffer = context.createBuffer(1, heard.values.length, sampleRate);
    buffer.copyToChannel(heard.values as Float32Array<ArrayBuffer>, 0);
    this.buffers.set(heard, buffer);
    return buffer;
  }
}
