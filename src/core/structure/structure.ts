/**
 * What the bytes at each place of a volume, or at the start of a file, are: areas and fields with
 * their values, to be laid over a listing of bytes.
 */
import type { ByteSource } from '../bits/byte-source';
import { said, type Said } from '../said';
import type { FieldName, RecordLayout, RecordName, VolumeArea } from '../volume/record';
import { valueOf, type FieldValue } from './field-value';

export interface Field {
  /** In the source. */
  offset: number;
  length: number;
  name: Said;
  value: FieldValue;
}

export interface Area {
  name: Said;
  offset: number;
  length: number;
  fields: Field[];
}

const nameOfField = (name: FieldName): Said => said(`fields.${name}`);

const nameInRecord = (each: RecordName, number: number, field: Said): Said =>
  said('values.inRecord', { record: said(`records.${each}`, { number }), field });

/** Fields of a record, as far as the bytes reach; `at` is where it begins in them. */
export function fieldsOf(
  layout: RecordLayout,
  bytes: Uint8Array,
  at: number,
  base: number,
  named = nameOfField,
): Field[] {
  return Object.entries(layout).flatMap(([name, { at: offset, kind, length }]) => {
    const start = at + offset;
    if (start + length > bytes.length) return [];
    const value = valueOf(bytes.subarray(start, start + length), kind);
    return [{ offset: base + start, length, name: named(name as FieldName), value }];
  });
}

async function readArea(
  source: ByteSource,
  { name, offset, length, layout = {}, records = [] }: VolumeArea,
): Promise<Area | null> {
  if (offset >= source.size) return null;
  const bytes = await source.read(offset, length);
  const fields = fieldsOf(layout, bytes, 0, offset);
  for (const { offset: first, step, count, each, layout: shape } of records) {
    for (let i = 0; i < count; i++) {
      const named = (field: FieldName) => nameInRecord(each, i + 1, nameOfField(field));
      fields.push(...fieldsOf(shape, bytes, first + i * step, offset, named));
    }
  }
  return { name, offset, length: bytes.length, fields: fields.sort((a, b) => a.offset - b.offset) };
}

/** The areas that are within the source, with their fields, in the order they are declared in. */
export async function readAreas(source: ByteSource, areas: readonly VolumeArea[]): Promise<Area[]> {
  const read: Area[] = [];
  for (const each of areas) {
    const area = await readArea(source, each);
    if (area) read.push(area);
  }
  return read;
}
