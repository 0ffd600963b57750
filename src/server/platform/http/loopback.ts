/** Whether a request came to this computer by its own name: another site may know only our port. */

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

export const isLoopback = (host: string | null): boolean => LOOPBACK.test(host ?? '');
