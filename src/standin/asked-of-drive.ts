/** What a drive can be asked for, by what it is; the rest is refused. */
import { DeviceError } from '@/benchlink/messages';
import { BlockDrive } from './block-drive';
import { BlockMediumInDrive } from './block-medium';
import { Drive } from './drive';
import type { OnShelf } from './shelf';

export function tracksOf(one: Drive | BlockDrive): Drive {
  if (!(one instanceof Drive))
    throw new DeviceError('refused', `Drive ${one.description.id} has no tracks.`);
  return one;
}

export function fluxOf(one: Drive | BlockDrive): Drive {
  if (!(one instanceof Drive) || one.description.delivers !== 'flux')
    throw new DeviceError('refused', `Drive ${one.description.id} delivers no flux.`);
  return one;
}

export function blocksOf(one: Drive | BlockDrive): BlockDrive {
  if (!(one instanceof BlockDrive))
    throw new DeviceError('refused', `Drive ${one.description.id} has tracks, not blocks.`);
  return one;
}

export function putIn(one: Drive | BlockDrive, medium: OnShelf): void {
  const fits = () => {
    throw new DeviceError(
      'refused',
      `${medium.file.label} does not fit drive ${one.description.id}.`,
    );
  };
  if (one instanceof BlockDrive) {
    if (!(medium instanceof BlockMediumInDrive)) return fits();
    return one.insert(medium);
  }
  if (medium instanceof BlockMediumInDrive) return fits();
  one.insert(medium);
}
