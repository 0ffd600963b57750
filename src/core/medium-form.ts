/**
 * What a medium is as a thing: floppies by their size, and devices that are read block by block.
 */
import { said, type Said } from '@/core/said';
import type { FormFactor } from './flux/container';

export const MEDIUM_FORMS = Object.freeze([
  '3.5',
  '5.25',
  '8',
  'hard-disk',
  'optical-disc',
] as const satisfies readonly (FormFactor | string)[]);
export type MediumForm = (typeof MEDIUM_FORMS)[number];
export type BlockForm = Extract<MediumForm, 'hard-disk' | 'optical-disc'>;

export const formName = (form: MediumForm): Said => said(`forms.${form}`);

export const isBlockForm = (form: MediumForm): form is BlockForm =>
  form === 'hard-disk' || form === 'optical-disc';
/** Floppies: what flux is read of. */
export const isFloppy = (form: MediumForm): form is FormFactor => !isBlockForm(form);

/**
 * What a blank floppy is made for: the coating of the two differs, and what is laid down on the
 * wrong one does not last.
 */
export const DENSITIES = Object.freeze(['double', 'high'] as const);
export type Density = (typeof DENSITIES)[number];
