/**
 * The server's own block devices and files as drives: read only, and only those on the allow-list.
 */
import { constants } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import type { BlockMedium } from '@/core/block/device';
import type { BlocksRead, DeviceLink, ReadBlocksOptions } from '@/benchlink/device-link';
import { DeviceError, type BlockDriveDescription, type DriveStatus } from '@/benchlink/messages';
import { allowedDevices, identityOf, type AllowedDevice, type DeviceIdentity } from './allowed';

const NOT_TRACKS = new DeviceError('refused', 'This device has blocks, not tracks.');

const describe = (
  { id }: AllowedDevice,
  { model, serial, bus, optical }: DeviceIdentity,
): BlockDriveDescription => ({
  id,
  form: optical ? 'optical-disc' : 'hard-disk',
  model,
  serial,
  delivers: 'blocks',
  writes: false,
  bus,
  speeds: [],
});

export class LocalLink implements DeviceLink {
  private readonly open = new Map<string, FileHandle>();

  constructor(private readonly allowed: readonly AllowedDevice[] = allowedDevices()) {}

  async drives(): Promise<BlockDriveDescription[]> {
    const found = await Promise.all(
      this.allowed.map(async (each) => {
        const identity = await identityOf(each.path);
        return identity && describe(each, identity);
      }),
    );
    return found.filter((each) => each !== null);
  }

  async status(drive: string): Promise<DriveStatus> {
    const identity = await identityOf(this.pathOf(drive));
    return {
      ready: identity !== null,
      medium: identity !== null && identity.size > 0,
      writeProtected: true,
      cylinder: 0,
    };
  }

  async blockMedium(drive: string): Promise<BlockMedium> {
    const identity = await identityOf(this.pathOf(drive));
    if (!identity) throw gone(this.pathOf(drive));
    const { optical, blockBytes, size, model, serial } = identity;
    return {
      kind: optical ? 'optical-disc' : 'hard-disk',
      model,
      serial,
      blockBytes,
      blocks: Math.floor(size / blockBytes),
      geometry: null,
      layers: [],
      tracks: [],
      health: null,
    };
  }

  async readBlocks(
    drive: string,
    blockBytes: number,
    { from, count }: ReadBlocksOptions,
    signal?: AbortSignal,
  ): Promise<BlocksRead> {
    if (signal?.aborted) throw new DeviceError('cancelled', 'Cancelled before it was asked.');
    const file = await this.handle(drive);
    const bytes = new Uint8Array(count * blockBytes);
    const started = performance.now();
    let done = 0;
    let failed = false;
    while (done < bytes.length && !failed) {
      try {
        const { bytesRead } = await file.read(
          bytes,
          done,
          bytes.length - done,
          from * blockBytes + done,
        );
        if (bytesRead === 0) failed = true;
        done += bytesRead;
      } catch (error) {
        const { code } = error as NodeJS.ErrnoException;
        if (code !== 'EIO' && code !== 'EREMOTEIO' && code !== 'ENODATA') {
          await this.drop(drive);
          throw gone(this.pathOf(drive), error);
        }
        failed = true;
      }
    }
    const got = Math.floor(done / blockBytes);
    // The system reads in pages, so that the block that failed is one of several unless one was
    // asked for.
    return {
      got,
      stopped: failed ? { why: 'unreadable', toldWhere: count - got === 1 } : null,
      ms: performance.now() - started,
      bytes: bytes.subarray(0, got * blockBytes),
      flags: null,
    };
  }

  readTrack(): Promise<never> {
    return Promise.reject(NOT_TRACKS);
  }

  readSectors(): Promise<never> {
    return Promise.reject(NOT_TRACKS);
  }

  writeTrack(): Promise<never> {
    return Promise.reject(NOT_TRACKS);
  }

  writeBlocks(): Promise<never> {
    return Promise.reject(
      new DeviceError('refused', 'The server’s own devices are opened for reading only.'),
    );
  }

  close(): void {
    for (const drive of [...this.open.keys()]) void this.drop(drive);
  }

  private pathOf(drive: string): string {
    const device = this.allowed.find(({ id }) => id === drive);
    if (!device)
      throw new DeviceError('refused', 'This device is not on the list of those that may be read.');
    return device.path;
  }

  private async handle(drive: string): Promise<FileHandle> {
    const there = this.open.get(drive);
    if (there) return there;
    const path = this.pathOf(drive);
    // Never for writing.
    const file = await open(path, constants.O_RDONLY | constants.O_NONBLOCK).catch((error) => {
      throw gone(path, error);
    });
    this.open.set(drive, file);
    return file;
  }

  private async drop(drive: string): Promise<void> {
    const file = this.open.get(drive);
    this.open.delete(drive);
    await file?.close().catch(() => undefined);
  }
}

function gone(path: string, cause?: unknown): DeviceError {
  const { code } = (cause ?? {}) as NodeJS.ErrnoException;
  return new DeviceError(
    'device-gone',
    code === 'EACCES' || code === 'EPERM'
      ? `${path} may not be read by the user that the application runs as.`
      : `${path} is not there.`,
    { cause },
  );
}
