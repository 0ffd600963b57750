/**
 * `npm run make-schemas`: writes the JSON Schemas of what we write into the docs, from the
 * declarations in the core.
 */
import { writeFileSync } from 'node:fs';
import { z } from 'zod';
import { certificateJsonSchema } from '@/core/assembly/certificate';
import { extentsJsonSchema } from '@/core/block/extents-file';
import { sidecarJsonSchema } from '@/core/image/sidecar-schema';
import { LayoutFile } from '@/core/layout/schema';
import { copyJsonSchema } from '@/core/parcel/copy-record';
import { eventsJsonSchema } from '@/core/parcel/event-record';

const write = (name: string, schema: unknown) =>
  writeFileSync(`docs/formats/${name}.schema.json`, `${JSON.stringify(schema, null, 1)}\n`);
write('sidecar', sidecarJsonSchema());
write('certificate', certificateJsonSchema());
write('extents', extentsJsonSchema());
write('copy', copyJsonSchema());
write('events', eventsJsonSchema());
write('layout', { title: 'Layout of a disk', ...z.toJSONSchema(LayoutFile, { io: 'input' }) });
