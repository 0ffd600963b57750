'use client';
/** What an assembly begins with, as its form asks for it. */
import { z } from 'zod';
import { say } from '@/messages';

export const Beginning = z.object({
  title: z.string().trim().min(1, say.assemblies.sayWhatItIs).max(200),
  kind: z.string(),
  label: z.string().max(16),
});

export type Beginning = z.output<typeof Beginning>;
