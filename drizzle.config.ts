import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: [
    './src/server/db/schema.ts',
    './src/server/db/block-schema.ts',
    './src/server/db/assembly-schema.ts',
    './src/server/db/scan-schema.ts',
    './src/server/db/transfer-schema.ts',
  ],
  out: './drizzle',
  casing: 'snake_case',
});
