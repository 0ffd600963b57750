/** How fields and areas are declared. */

/**
 * Where the parts of each kind of volume lie and what their fields mean, as data: names as the
 * standards have them.
 */

/** How a field's bytes are read. */
export type FieldKind =
  | 'u8'
  | 'u16'
  | 'u16be'
  | 'u24'
  | 'u32'
  | 's8'
  | 'text'
  | 'high-text'
  | 'd64-text'
  | 'bytes'
  | 'sampler-text'
  | 'track-sector'
  | 'date-time';

/** Offset in its area, name, kind, and its length where the kind does not say. */
export type FieldRule = readonly [offset: number, name: string, kind: FieldKind, length?: number];

/** A run of records of the same shape. */
export interface Records {
  offset: number;
  step: number;
  count: number;
  name: string;
  fields: readonly FieldRule[];
}

export interface AreaRule {
  name: string;
  offset: number;
  length: number;
  fields: readonly FieldRule[];
  records?: readonly Records[];
}
