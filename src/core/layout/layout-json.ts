/**
 * A layout as it is exported; `schema.ts` reads it back. Apart from it, so that writing one needs
 * no checker.
 */
import type { Layout } from './layout';

export const LAYOUT_FORMAT = 'frail-spindle-layout';

export function layoutJson(layout: Layout): Record<string, unknown> {
  return { format: LAYOUT_FORMAT, version: 1, ...layout };
}
