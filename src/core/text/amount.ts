/** Sizes as people read them. */
import { grouped } from './grouped';

/** Bytes in the unit that suits them. */
export function amount(bytes: number): string {
  const unit = ['bytes', 'KiB', 'MiB', 'GiB', 'TiB'];
  let [value, i] = [bytes, 0];
  while (value >= 1024 && i < unit.length - 1) [value, i] = [value / 1024, i + 1];
  return `${i === 0 || value >= 100 ? grouped(Math.round(value)) : value.toFixed(1)} ${unit[i]}`;
}
