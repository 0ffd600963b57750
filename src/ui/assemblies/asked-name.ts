'use client';
/** What is asked for in the line above a listing. */
import type { AssemblyData } from '../data/queries';
import { say } from '@/messages';

/** What is asked for in the line above the listing. */
export const ASKED = {
  rename: say.assemblies.newNameOf,
  folder: say.assemblies.nameOfTheFolder,
  type: say.assemblies.typeOf,
  modified: say.assemblies.dateAndTimeOf,
} as const;

export type Asked = keyof typeof ASKED;

export type Entry = AssemblyData['entries'][number];
