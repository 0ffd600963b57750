/** What all of UDF is read with. */

export const SECTOR = 2048;

export const viewOf = (bytes: Uint8Array) =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

export const ascii = (bytes: Uint8Array) => String.fromCharCode(...bytes);
