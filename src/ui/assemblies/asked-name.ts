'use client';
/** What is asked for in the line above a listing. */
import type { AssemblyData } from '../data/queries';

/** What is asked for in the line above the listing. */
export const ASKED = {
  rename: 'New name of',
  folder: 'Name of the folder',
  type: 'Type of',
  modified: 'Date and time of',
} as const;

export type Asked = keyof typeof ASKED;

export type Entry = AssemblyData['entries'][number];
