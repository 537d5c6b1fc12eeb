import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'sqlite',
  schema: [
    './server/db/schema.ts',
    './server/db/records.ts',
    './server/db/careTables.ts',
    './server/db/headTables.ts',
    './server/db/peopleTables.ts',
    './server/db/awayTables.ts',
    './server/db/messageTables.ts',
    './server/db/factTables.ts',
  ],
  out: './server/db/migrations',
});
