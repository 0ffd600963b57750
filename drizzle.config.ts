import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: ['./src/server/platform/*/tables.ts', './src/server/features/*/tables.ts'],
  out: './drizzle',
  casing: 'snake_case',
});
