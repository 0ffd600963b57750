/**
 * The server's own block devices and files that may be read: those that the person who runs the
 * server listed, and no
 * other. `SPINDLE_DEVICES` holds their paths, one a line or separated by commas; they are opened
 * for reading only.
 */
import { config } from '../config';
import { createHash } from 'node:crypto';
import { readFile, readlink, stat } from 'node:fs/promises';
import { basename, isAbsolute, resolve } from 'node:path';

export interface AllowedDevice {
  /** Which drive it is; begins with `local:`. */
  id: string;
  path: string;
}

export const LOCAL = 'local:';
const MOST = 32;

export function allowedDevices(listed = config().SPINDLE_DEVICES): AllowedDevice[] {
  const paths = listed
    .split(/[,\n]/)
    .map((each) => each.trim())
    .filter((each) => isAbsolute(each))
    .map((each) => resolve(each));
  return [...new Set(paths)].slice(0, MOST).map((path) => ({
    id: `${LOCAL}${createHash('sha256').update(path).digest('hex').slice(0, 12)}`,
    path,
  }));
}

export interface DeviceIdentity {
  model: string;
  serial: string;
  bus: string;
  size: number;
  blockBytes: number;
  /** Null where it is a block device. */
  file: string | null;
  optical: boolean;
}

const FILE_BLOCK = 512;
const OPTICAL_MAJOR = 11;

/**
 * Model, serial, size and bus as the system gives them; null where it is not there, or can't be
 * read.
 */
export async function identityOf(path: string): Promise<DeviceIdentity | null> {
  const about = await stat(path).catch(() => null);
  if (!about) return null;
  if (about.isFile())
    return {
      model: 'file on the server',
      serial: basename(path),
      bus: 'file',
      size: about.size,
      blockBytes: about.size % 2048 === 0 && /\.iso$/i.test(path) ? 2048 : FILE_BLOCK,
      file: path,
      optical: false,
    };
  if (!about.isBlockDevice()) return null;
  const [major, minor] = [
    (about.rdev >> 8) & 0xfff,
    (about.rdev & 0xff) | ((about.rdev >> 12) & 0xfff00),
  ];
  const sys = `/sys/dev/block/${major}:${minor}`;
  const text = async (...names: string[]) => {
    for (const name of names) {
      const found = (await readFile(`${sys}/${name}`, 'utf8').catch(() => '')).trim();
      if (found) return found;
    }
    return '';
  };
  const [vendor, model, serial, sectors, block, where] = await Promise.all([
    text('device/vendor'),
    text('device/model'),
    text('device/serial', 'device/wwid', 'wwid', 'serial'),
    text('size'),
    text('queue/logical_block_size'),
    readlink(sys).catch(() => ''),
  ]);
  const bus = busOf(where);
  // The size there counts 512 bytes whatever the device's own blocks are.
  return {
    model: [vendor, model].filter(Boolean).join(' ') || `block device ${basename(path)}`,
    serial: serial || basename(path),
    bus,
    size: Number(sectors) * 512,
    blockBytes: Number(block) || FILE_BLOCK,
    file: null,
    optical: major === OPTICAL_MAJOR,
  };
}

function busOf(where: string) {
  return /\/usb\d/.test(where)
    ? 'USB'
    : /\/ata\d/.test(where)
      ? 'ATA'
      : /\/nvme/.test(where)
        ? 'NVMe'
        : /\/virtio/.test(where)
          ? 'virtual'
          : /\/host\d/.test(where)
            ? 'SCSI'
            : 'not known';
}
