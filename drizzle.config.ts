import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'sqlite',
  schema: [
    './server/db/tables/floorTables.ts',
    './server/db/tables/schema.ts',
    './server/db/tables/records.ts',
    './server/db/tables/careTables.ts',
    './server/db/tables/headTables.ts',
    './server/db/tables/peopleTables.ts',
    './server/db/tables/awayTables.ts',
    './server/db/tables/messageTables.ts',
    './server/db/tables/factTables.ts',
  ],
  out: './server/db/migrations',
});
