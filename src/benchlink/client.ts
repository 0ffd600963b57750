/** The application's end of a bench connection over TCP. */
import { connect, type Socket } from 'node:net';
import { z } from 'zod';
import type { TrackReading } from '@/core/flux/reading';
import type { ControllerTrack } from '@/core/reading/controller/controller-tracks';
import { BlockMedium } from '@/core/block/device';
import type { BlocksRead, DeviceLink, ReadBlocksOptions, ReadTrackOptions } from './device-link';
import { encodeFrame, FrameReader, type Frame } from './framing';
import {
  BlocksResult,
  DeviceError,
  DriveDescription,
  DriveStatus,
  Greeting,
  LineDescription,
  type RequestBody,
  Response,
  SectorsResult,
  ShelfItem,
  TrackResult,
} from './messages';

interface Waiting {
  resolve: (frame: { result: unknown; payload: Uint8Array }) => void;
  reject: (error: Error) => void;
}

const CONNECT_MS = 3000;
/** Longest any request may take: 20 turns with tries of its own are far below. */
const REQUEST_MS = 60_000;

export interface BenchAddress {
  host: string;
  port: number;
  /** Shown to a bench that wants one. */
  token: string;
}

export class BenchClient implements DeviceLink {
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 1;
  private gone: DeviceError | null = null;

  private constructor(
    private readonly socket: Socket,
    readonly simulated: boolean,
    readonly bench: string,
  ) {}

  /**
   * Connects and exchanges greetings; DeviceError `device-gone` where there is no bench, `refused`
   * where it does not know the token.
   */
  static async connect(address: BenchAddress): Promise<BenchClient> {
    const { client, wantsToken } = await BenchClient.greet(address);
    try {
      if (wantsToken) await client.request({ op: 'admit', token: address.token });
      return client;
    } catch (error) {
      client.close();
      throw error;
    }
  }

  private static greet({
    host,
    port,
  }: BenchAddress): Promise<{ client: BenchClient; wantsToken: boolean }> {
    return new Promise((resolve, reject) => {
      const socket = connect({ host, port });
      const frames = new FrameReader();
      let client: BenchClient | null = null;
      const fail = (reason: string, cause?: unknown) => {
        const error = new DeviceError('device-gone', `The bench at ${host}:${port} ${reason}.`, {
          cause,
        });
        socket.destroy();
        if (client) client.lose(error);
        else reject(error);
      };
      socket.setNoDelay(true);
      socket.setTimeout(CONNECT_MS, () => !client && fail('does not answer'));
      socket.on('error', (error) => fail("can't be reached", error));
      socket.on('close', () => fail('closed the connection'));
      socket.on('data', (chunk) => {
        try {
          for (const frame of frames.push(chunk)) {
            if (client) client.take(frame);
            else {
              const { simulated, bench, wantsToken } = Greeting.parse(frame.message);
              socket.setTimeout(0);
              client = new BenchClient(socket, simulated, bench);
              resolve({ client, wantsToken });
            }
          }
        } catch (error) {
          fail('speaks another protocol', error);
        }
      });
    });
  }

  async drives(): Promise<DriveDescription[]> {
    return z.array(DriveDescription).parse((await this.request({ op: 'drives' })).result);
  }

  async status(drive: string): Promise<DriveStatus> {
    return DriveStatus.parse((await this.request({ op: 'status', drive })).result);
  }

  async readTrack(
    drive: string,
    options: ReadTrackOptions,
    signal?: AbortSignal,
  ): Promise<TrackReading> {
    const { result, payload } = await this.request(
      { op: 'read-track', drive, ...options },
      undefined,
      signal,
    );
    return { ...TrackResult.parse(result), flux: payload };
  }

  async readSectors(
    drive: string,
    options: Omit<ReadTrackOptions, 'revolutions'>,
    signal?: AbortSignal,
  ): Promise<ControllerTrack> {
    const { result, payload } = await this.request(
      { op: 'read-sectors', drive, ...options },
      undefined,
      signal,
    );
    const told = SectorsResult.parse(result);
    const wanted = told.sectors.reduce((sum, { size }) => sum + size, 0);
    if (payload.length !== wanted)
      throw new DeviceError(
        'refused',
        `The drive announced sectors of ${wanted} bytes and sent ${payload.length}.`,
      );
    return { ...told, data: payload };
  }

  async writeTrack(
    drive: string,
    { cylinder, head, index, flux }: TrackReading,
    signal?: AbortSignal,
  ): Promise<void> {
    await this.request(
      { op: 'write-track', drive, cylinder, head, index, payload: flux.length },
      flux,
      signal,
    );
  }

  async blockMedium(drive: string): Promise<BlockMedium> {
    return BlockMedium.parse((await this.request({ op: 'block-medium', drive })).result);
  }

  async readBlocks(
    drive: string,
    blockBytes: number,
    options: ReadBlocksOptions,
    signal?: AbortSignal,
  ): Promise<BlocksRead> {
    const { result, payload } = await this.request(
      { op: 'read-blocks', drive, ...options },
      undefined,
      signal,
    );
    const { got, stopped, ms, flags } = BlocksResult.parse(result);
    const size = got * blockBytes;
    const wanted = flags ? size + size / 8 : size;
    if (got > options.count || payload.length !== wanted)
      throw new DeviceError(
        'refused',
        `The drive announced ${got} blocks, ${wanted} bytes, and sent ${payload.length}.`,
      );
    return {
      got,
      stopped,
      ms,
      bytes: payload.subarray(0, size),
      flags: flags ? payload.subarray(size) : null,
    };
  }

  async writeBlocks(
    drive: string,
    blockBytes: number,
    from: number,
    bytes: Uint8Array,
    signal?: AbortSignal,
  ): Promise<void> {
    await this.request(
      { op: 'write-blocks', drive, from, count: bytes.length / blockBytes, payload: bytes.length },
      bytes,
      signal,
    );
  }

  /** Serial lines that the bench has. */
  async lines(): Promise<LineDescription[]> {
    return z.array(LineDescription).parse((await this.request({ op: 'lines' })).result);
  }

  /** Sets a line's rate, in bits a second. */
  async openLine(line: string, rate: number): Promise<void> {
    await this.request({ op: 'line-open', line, rate });
  }

  /** Answers when the bytes have gone. */
  async sendLine(line: string, bytes: Uint8Array, signal?: AbortSignal): Promise<void> {
    await this.request({ op: 'line-send', line, payload: bytes.length }, bytes, signal);
  }

  /** What came since; waits for the first byte as long as is said. */
  async receiveLine(line: string, waitMs: number, signal?: AbortSignal): Promise<Uint8Array> {
    return (await this.request({ op: 'line-receive', line, waitMs }, undefined, signal)).payload;
  }

  /** What lies on a simulated bench's shelf. */
  async shelf(): Promise<ShelfItem[]> {
    return z.array(ShelfItem).parse((await this.request({ op: 'hand-shelf' })).result);
  }

  /** One of the things that a person does at a real bench. */
  async hand(body: Extract<RequestBody, { op: `hand-${string}` }>): Promise<void> {
    await this.request(body);
  }

  close(): void {
    this.lose(new DeviceError('device-gone', 'The connection was closed.'));
    this.socket.destroy();
  }

  private request(
    body: RequestBody,
    payload?: Uint8Array,
    signal?: AbortSignal,
  ): Promise<{ result: unknown; payload: Uint8Array }> {
    if (this.gone) return Promise.reject(this.gone);
    if (signal?.aborted)
      return Promise.reject(new DeviceError('cancelled', 'Cancelled before it was asked.'));
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      const cancel = () =>
        this.socket.write(encodeFrame({ id: this.nextId++, op: 'cancel', target: id }));
      const timer = setTimeout(
        () =>
          finish(() =>
            reject(
              new DeviceError(
                'time-out',
                `The drive did not answer within ${REQUEST_MS / 1000} s.`,
              ),
            ),
          ),
        REQUEST_MS,
      );
      const finish = (settle: () => void) => {
        clearTimeout(timer);
        signal?.removeEventListener('abort', cancel);
        this.waiting.delete(id);
        settle();
      };
      this.waiting.set(id, {
        resolve: (frame) => finish(() => resolve(frame)),
        reject: (error) => finish(() => reject(error)),
      });
      signal?.addEventListener('abort', cancel);
      this.socket.write(encodeFrame({ ...body, id }, payload));
    });
  }

  private take({ message, payload }: Frame): void {
    const response = Response.parse(message);
    const waiting = this.waiting.get(response.id);
    // An answer to what was given up, or to a cancellation.
    if (!waiting) return;
    if (response.ok) waiting.resolve({ result: response.result, payload });
    else waiting.reject(new DeviceError(response.failure, response.message));
  }

  private lose(error: DeviceError): void {
    this.gone ??= error;
    for (const { reject } of [...this.waiting.values()]) reject(error);
  }
}
