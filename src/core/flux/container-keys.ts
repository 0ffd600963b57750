/** Keys of the container's items. */

export const KEY_READING = [0x68, ...new TextEncoder().encode('cylinder')];
