/**
 * The simulated bench's end of the protocol: one connection or several, requests of one drive in
 * order.
 */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type Server, type Socket } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { z } from 'zod';
import { encodeFrame, FrameReader, type Frame } from '@/benchlink/framing';
import { DeviceError, PROTOCOL, PROTOCOL_VERSION, Request } from '@/benchlink/messages';
import { Admission } from './admission';
import { blocksOf, fluxOf, putIn, tracksOf } from './asked-of-drive';
import { BlockDrive } from './block-drive';
import { BlockMediumInDrive } from './block-medium';
import { Drive } from './drive';
import { SerialLine } from './serial-line';
import { Shelf, type OnShelf } from './shelf';
import { DRIVES, BLOCK_DRIVES } from './drives';

interface BenchOptions {
  shelfFolder: string;
  /** How many times faster than life; 0 takes no time at all. */
  speed: number;
  /** What a connection must show before anything is done for it; empty where nothing is wanted. */
  token?: string;
}

type HandRequest = Extract<
  Request,
  { op: 'hand-insert' | 'hand-remove' | 'hand-clean' | 'hand-fault' }
>;
type DriveRequest = Exclude<Extract<Request, { drive: string }>, HandRequest>;

const isByHand = (request: HandRequest | DriveRequest): request is HandRequest =>
  request.op.startsWith('hand-');

function notUnderstood(asked: unknown, why: string): Uint8Array {
  const id = typeof asked === 'number' && asked >= 1 ? asked : 1;
  const message = `The request can't be understood: ${why}`;
  return encodeFrame({ id, ok: false, failure: 'refused', message });
}

export class Bench {
  private readonly shelf: Shelf;
  private readonly drives: Map<string, Drive | BlockDrive>;
  private readonly lines: Map<string, SerialLine>;
  private readonly queues = new Map<string, Promise<unknown>>();
  private readonly sockets = new Set<Socket>();
  private readonly server: Server;
  private readonly drivesPath: string;
  private readonly admission: Admission;

  constructor({ shelfFolder, speed, token = '' }: BenchOptions) {
    this.admission = new Admission(token);
    this.shelf = new Shelf(shelfFolder);
    const wait = async (seconds: number, signal: AbortSignal) => {
      if (signal.aborted) throw new DeviceError('cancelled', 'Cancelled.');
      if (speed === 0) return;
      await sleep((seconds * 1000) / speed, undefined, { signal }).catch(() => {
        throw new DeviceError('cancelled', 'Cancelled.');
      });
    };
    // A drive that vanishes takes its connections with it, as a pulled cable does.
    const vanish = () => {
      for (const socket of this.sockets) socket.destroy();
    };
    this.drives = new Map<string, Drive | BlockDrive>(
      DRIVES.map(([description, error]) => [
        description.id,
        new Drive(description, error, wait, vanish),
      ]),
    );
    for (const description of BLOCK_DRIVES)
      this.drives.set(description.id, new BlockDrive(description, wait, vanish));
    this.lines = new Map([
      [
        'L1',
        new SerialLine(
          {
            id: 'L1',
            name: 'serial line of the bench',
            rates: [300, 1200, 2400, 4800, 9600, 19_200],
          },
          wait,
          shelfFolder,
        ),
      ],
    ]);
    this.drivesPath = join(shelfFolder, 'in-drives.json');
    this.findDrives();
    this.server = createServer((socket) => this.serve(socket));
  }

  /** A disk stays in its drive when the bench is switched off. */
  private keepDrives(): void {
    const there = [...this.drives].flatMap(([id, one]) =>
      this.shelf
        .all()
        .filter((medium) => one.holds(medium))
        .map((medium) => [id, medium.file.label]),
    );
    writeFileSync(this.drivesPath, `${JSON.stringify(Object.fromEntries(there))}\n`);
  }

  private findDrives(): void {
    if (!existsSync(this.drivesPath)) return;
    for (const [id, label] of Object.entries(
      z.record(z.string(), z.string()).parse(JSON.parse(readFileSync(this.drivesPath, 'utf8'))),
    )) {
      const medium = this.shelf.find(label);
      const one = this.drives.get(id);
      if (medium && one) putIn(one, medium);
    }
  }

  /** Listens on loopback; gives the port. */
  listen(port: number): Promise<number> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject);
      this.server.listen(port, '127.0.0.1', () => {
        const address = this.server.address();
        resolve(typeof address === 'object' && address ? address.port : port);
      });
    });
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((resolve) => this.server.close(resolve));
  }

  private serve(socket: Socket): void {
    const frames = new FrameReader();
    const running = new Map<number, AbortController>();
    this.sockets.add(socket);
    socket.setNoDelay(true);
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      this.sockets.delete(socket);
      for (const controller of running.values()) controller.abort();
    });
    socket.on('data', (chunk) => {
      try {
        for (const frame of frames.push(chunk)) void this.answer(socket, frame, running);
      } catch {
        socket.destroy();
      }
    });
    socket.write(
      encodeFrame({
        hello: PROTOCOL,
        version: PROTOCOL_VERSION,
        bench: 'Simulated bench',
        simulated: true,
        wantsToken: this.admission.isWanted,
      }),
    );
  }

  private async answer(
    socket: Socket,
    { message, payload }: Frame,
    running: Map<number, AbortController>,
  ): Promise<void> {
    const parsed = Request.safeParse(message);
    if (!parsed.success) {
      socket.write(notUnderstood(message.id, parsed.error.issues[0]?.message ?? ''));
      return;
    }
    const request = parsed.data;
    const controller = new AbortController();
    running.set(request.id, controller);
    try {
      this.admission.check(socket, request);
      const { result, flux } = await this.perform(request, payload, controller.signal, running);
      socket.write(encodeFrame({ id: request.id, ok: true, result }, flux));
    } catch (error) {
      const failure = error instanceof DeviceError ? error.failure : 'refused';
      socket.write(
        encodeFrame({ id: request.id, ok: false, failure, message: (error as Error).message }),
      );
    } finally {
      running.delete(request.id);
    }
  }

  private async perform(
    request: Request,
    payload: Uint8Array,
    signal: AbortSignal,
    running: Map<number, AbortController>,
  ): Promise<{ result: unknown; flux?: Uint8Array }> {
    if (request.op === 'drives')
      return { result: [...this.drives.values()].map(({ description }) => description) };
    if (request.op === 'admit') return { result: null };
    if (request.op === 'cancel') {
      running.get(request.target)?.abort();
      return { result: null };
    }
    if (request.op === 'lines')
      return { result: [...this.lines.values()].map(({ description }) => description) };
    if ('line' in request) return this.performOnLine(request, payload, signal);
    if (request.op === 'hand-shelf') return { result: this.describeShelf() };
    const one = this.drives.get(request.drive);
    if (!one) throw new DeviceError('refused', `This bench has no drive ${request.drive}.`);
    return isByHand(request)
      ? { result: this.performByHand(request, one) }
      : this.performOnDrive(request, one, payload, signal);
  }

  /** What a person does at a drive. */
  private performByHand(request: HandRequest, one: Drive | BlockDrive): null {
    switch (request.op) {
      case 'hand-remove':
        one.remove();
        break;
      case 'hand-clean':
        if (one instanceof Drive) one.clean();
        break;
      case 'hand-fault':
        one.order(request.fault, request.after);
        break;
      case 'hand-insert':
        this.insert(request.label, one);
        break;
    }
    this.keepDrives();
    return null;
  }

  private insert(label: string, one: Drive | BlockDrive): void {
    const medium = this.shelf.find(label);
    if (!medium) throw new DeviceError('refused', `No disk on the shelf is labelled ${label}.`);
    if ([...this.drives.values()].some((each) => each !== one && each.holds(medium)))
      throw new DeviceError('refused', `${label} is in another drive.`);
    if (!one.holds(medium)) putIn(one, medium);
  }

  private async performOnDrive(
    request: DriveRequest,
    one: Drive | BlockDrive,
    payload: Uint8Array,
    signal: AbortSignal,
  ): Promise<{ result: unknown; flux?: Uint8Array }> {
    const inTurn = <T>(work: () => Promise<T>) => this.inTurn(request.drive, work);
    switch (request.op) {
      case 'status':
        return { result: one.status() };
      case 'read-track': {
        const { flux, ...result } = await inTurn(() => fluxOf(one).read(request, signal));
        return { result, flux };
      }
      case 'read-sectors': {
        const { data, ...result } = await inTurn(() => tracksOf(one).readSectors(request, signal));
        return { result, flux: data };
      }
      case 'write-track': {
        const { cylinder, head, index } = request;
        const turn = { cylinder, head, index, pass: 0, flux: payload };
        await inTurn(() => tracksOf(one).write(turn, signal));
        return { result: null };
      }
      case 'block-medium':
        return { result: blocksOf(one).describeMedium() };
      case 'write-blocks':
        await inTurn(() => blocksOf(one).writeBlocks(request, payload, signal));
        return { result: null };
      case 'read-blocks': {
        const { payload: flux, ...result } = await inTurn(() =>
          blocksOf(one).readBlocks(request, signal),
        );
        return { result, flux };
      }
    }
  }

  private async performOnLine(
    request: Extract<Request, { line: string }>,
    payload: Uint8Array,
    signal: AbortSignal,
  ): Promise<{ result: unknown; flux?: Uint8Array }> {
    const line = this.lines.get(request.line);
    if (!line) throw new DeviceError('refused', `This bench has no line ${request.line}.`);
    switch (request.op) {
      case 'line-open':
        line.open(request.rate);
        return { result: null };
      case 'line-send':
        await this.inTurn(request.line, () => line.send(payload, signal));
        return { result: null };
      case 'line-receive':
        return { result: null, flux: await line.receive(request.waitMs, signal) };
      case 'hand-line':
        if (request.receive) line.startReceiving(request.receive);
        if (request.noise !== undefined) line.setNoise(request.noise);
        return { result: null };
    }
  }

  private describeShelf() {
    const inDrive = (medium: OnShelf) =>
      [...this.drives.values()].find((one) => one.holds(medium))?.description.id ?? null;
    return this.shelf.all().map((medium) => ({
      label: medium.file.label,
      form: medium.file.form,
      describes: medium.file.describes,
      blank:
        medium instanceof BlockMediumInDrive ? medium.canBeWritten : medium.file.recorded === null,
      inDrive: inDrive(medium),
    }));
  }

  /** One head does one thing at a time. */
  private inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    const turn = (this.queues.get(id) ?? Promise.resolve()).then(work);
    this.queues.set(
      id,
      turn.catch(() => undefined),
    );
    return turn;
  }
}
