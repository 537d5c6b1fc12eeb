import { existsSync, readFileSync } from 'node:fs';
import { ASSUMED_CMYK } from '../../core/coats/artworkProfiles.ts';
import type { Db } from '../db/open.ts';
import { profiles } from '../db/tables/floorTables.ts';
import { storeProfile } from '../usecases/setup/profiles.ts';
import { PRINTERS } from './printerData.ts';
import { profileFile } from './profileFile.ts';

/**
 * Profiles of the demo's printers, and that of CMYK that comes without one; those that are not here yet: a shop of an earlier version has none.
 * @param folder where the files of the project lie
 */
export function seedProfiles(db: Db, folder: string): void {
  const known = new Set(
    db
      .select({ name: profiles.name })
      .from(profiles)
      .all()
      .map(({ name }) => name),
  );
  const names = [ASSUMED_CMYK, ...PRINTERS.flatMap(({ config }) => config.modes.map(({ profile }) => profile))];
  const missing = names.filter((name) => !known.has(name) && existsSync(profileFile(name, folder)));
  if (missing.length === 0) return;
  db.transaction((tx) => {
    for (const name of missing) storeProfile(tx, name, readFileSync(profileFile(name, folder)));
  });
}
