import { eq } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { TicketValues } from '../../../core/ticket/ticket.ts';
import { profiles } from '../../db/tables/floorTables.ts';
import { exists, writeWhole } from '../../files/atomic.ts';
import { Refused, type Shop } from '../../shop.ts';

/** What is to be printed, and on what. */
interface Printed {
  /** As a person calls it. */
  readonly what: string;
  readonly printerName: string;
  readonly mode: PrinterConfig['modes'][number];
  readonly ticket: Pick<TicketValues, 'profile'>;
}

/**
 * The profile by which something is printed: the ticket's, else that of its mode. It is laid where threads read it; the database keeps it.
 * @throws Refused where no file of it is here
 */
export async function wantedProfile(
  shop: Shop,
  { what, printerName, mode, ticket }: Printed,
): Promise<{ readonly name: string; readonly sha256: string }> {
  const name = ticket.profile ?? mode.profile;
  const profile = await laidProfile(shop, name);
  if (!profile) {
    const who = ticket.profile === null ? `${mode.name} on ${printerName} prints` : `${what} is to be printed`;
    throw new Refused(
      422,
      'no-profile',
      `${who} by the profile ${name}, and no file of it is here.`,
      { profile: name },
      'Bring in its ICC file under that name.',
    );
  }
  return { name: profile.name, sha256: profile.sha256 };
}

/** A profile by its name, laid where threads read it; undefined: no file of it is here. */
export async function laidProfile(
  shop: Shop,
  name: string,
): Promise<{ readonly name: string; readonly sha256: string; readonly space: string } | undefined> {
  const profile = shop.db
    .select({ name: profiles.name, sha256: profiles.sha256, space: profiles.space })
    .from(profiles)
    .where(eq(profiles.name, name))
    .get();
  if (!profile) return undefined;
  const file = shop.paths.profile(profile.sha256);
  if (!(await exists(file))) {
    const row = shop.db.select({ bytes: profiles.bytes }).from(profiles).where(eq(profiles.name, name)).get();
    if (row) await writeWhole(file, row.bytes);
  }
  return profile;
}

/** Channels of a printer that a profile is made for: white lies under or over the colours, as a coat of its own. */
export function colourChannels({ channels }: Pick<PrinterConfig, 'channels'>): PrinterConfig['channels'] {
  return channels.filter(({ id }) => id !== 'white');
}
