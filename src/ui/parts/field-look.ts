/** How a field of a form looks: its label above it, its edge red where something is wrong. */
export const field =
  'mt-0.5 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] ' +
  'text-ink aria-invalid:border-oxide';
