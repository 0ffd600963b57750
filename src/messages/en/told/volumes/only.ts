/** What only one of a disc's directories lists. */
export const only = (system: string, paths: readonly string[], more: number) =>
  paths.length === 0
    ? ''
    : ` Only in ${system}: ${paths.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`;
