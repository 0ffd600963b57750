/** An image of a disk from its files. */
import { shippedLayout } from '@/core/layout/shipped';
import { buildFat12, type DemoFile } from './fat-builder';

export const image = (layout: string, label: string, files: readonly DemoFile[]) =>
  buildFat12(shippedLayout(layout)!, label, files);
