/** Reads a ZIP by its central directory, apart from whatever wrote it. */
import { inflateRawSync } from 'node:zlib';

/** Names and bytes in a ZIP's central directory and data, written out plainly. */
export function unzip(zip: Uint8Array): Map<string, Uint8Array> {
  const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
  const end = zip.length - 22;
  expect(view.getUint32(end, true)).toBe(0x06054b50);
  const files = new Map<string, Uint8Array>();
  let at = view.getUint32(end + 16, true);
  for (let i = 0; i < view.getUint16(end + 10, true); i++) {
    const [method, packed, nameLength, extra, comment, local] = [
      view.getUint16(at + 10, true),
      view.getUint32(at + 20, true),
      view.getUint16(at + 28, true),
      view.getUint16(at + 30, true),
      view.getUint16(at + 32, true),
      view.getUint32(at + 42, true),
    ];
    const name = new TextDecoder().decode(zip.subarray(at + 46, at + 46 + nameLength));
    const data = local + 30 + view.getUint16(local + 26, true) + view.getUint16(local + 28, true);
    files.set(
      name,
      method === 8
        ? inflateRawSync(zip.subarray(data, data + packed))
        : zip.slice(data, data + packed),
    );
    at += 46 + nameLength + extra + comment;
  }
  return files;
}
