/** The median of a few figures; 0 of none. */
export const median = (values: readonly number[]): number =>
  Float64Array.from(values).sort()[values.length >> 1] ?? 0;
