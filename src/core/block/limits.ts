/** What is believed of a device that describes itself. */

/** A device larger than this does not exist among what is kept here, or lies: 64 TiB. */
export const MAX_DEVICE_BYTES = 2 ** 46;
