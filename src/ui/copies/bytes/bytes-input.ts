'use client';
/** How a field beside bytes looks. */

export const input = 'border border-line bg-sheet px-2 py-1.5 text-[14px]';
