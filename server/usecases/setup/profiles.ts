import { createHash } from 'node:crypto';
import { asc, eq, sql } from 'drizzle-orm';
import type { ProfileView } from '../../../contract/api/colour/profile.ts';
import { ASSUMED_CMYK } from '../../../core/coats/artworkProfiles.ts';
import type { Actor } from '../../../core/events/actor.ts';
import type { Reader } from '../../db/open.ts';
import { printers, profiles } from '../../db/tables/floorTables.ts';
import { Unreadable } from '../../render/facts.ts';
import { ColourLibrary } from '../../render/colour/colourLibrary.ts';
import { profileHeader } from '../../render/colour/profileHeader.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { forgetCounts } from '../output/countedInk.ts';

/** Profiles that are here, with what asks for each. */
export function profileViews(db: Reader): ProfileView[] {
  const asking = db
    .select({ name: printers.name, config: printers.config })
    .from(printers)
    .orderBy(asc(printers.position))
    .all()
    .flatMap(({ name, config }) =>
      config.modes.map((mode) => ({ profile: mode.profile, mode: `${name} ${mode.name}` })),
    );
  return db
    .select({
      name: profiles.name,
      space: profiles.space,
      channels: profiles.channels,
      bytes: sql<number>`length(${profiles.bytes})`,
      hasReplaced: sql<boolean>`${profiles.before} is not null`.mapWith(Boolean),
    })
    .from(profiles)
    .orderBy(asc(profiles.name))
    .all()
    .map((row) => ({
      ...row,
      modes: [
        ...(row.name === ASSUMED_CMYK ? ['CMYK of artwork without a profile'] : []),
        ...asking.filter(({ profile }) => profile === row.name).map(({ mode }) => mode),
      ],
    }));
}

/** Writes a profile down; part of a transaction of the caller's. @param before of the one that it takes the place of */
export function storeProfile(tx: Reader, name: string, bytes: Buffer, before: Buffer | null = null): void {
  const { space, channels } = profileHeader(bytes);
  const row = { space, channels, bytes, before, sha256: createHash('sha256').update(bytes).digest('hex') };
  tx.insert(profiles)
    .values({ name, ...row })
    .onConflictDoUpdate({ target: profiles.name, set: row })
    .run();
}

/**
 * Takes a profile in under the name by which modes ask for it; one that was there is replaced. What is rendered from then on goes by it.
 * @throws Refused where it is no whole profile of a printer or of RGB artwork, or has other inks than a mode that asks for it
 */
export async function takeProfile(shop: Shop, name: string, bytes: Buffer, actor: Actor): Promise<ProfileView> {
  const called = name.trim();
  if (called === '') throw new Refused(422, 'no-name', 'A profile needs a name: that by which a mode asks for it.');
  const { channels, isPrinters } = await readable(bytes);
  for (const { printer, mode, colours } of modesAsking(shop.db, called)) {
    if (isPrinters && colours.length === channels) continue;
    throw new Refused(
      422,
      'other-inks',
      `${called} is for ${String(channels)} inks, and ${mode} of ${printer} prints ${String(colours.length)} colours: ${colours.join(', ')}.`,
      { channels, colours: colours.length },
      'Take the profile that was made for this printer.',
    );
  }
  transact(shop, (work) => {
    const known = work.tx.select().from(profiles).where(eq(profiles.name, called)).get();
    storeProfile(work.tx, called, bytes, known?.bytes);
    forgetCounts(work, goesBy(called));
    work.touch({ type: 'setup', id: 'profiles' });
    work.note({
      kind: 'profile.taken',
      subject: ['shop', 'profiles'],
      actor,
      data: { profile: called, replaced: known !== undefined },
      ...(known && { undo: putBackStep(called) }),
    });
  });
  return viewOf(shop, called);
}

function putBackStep(name: string) {
  return { label: 'Put back', method: 'POST', path: `/api/profiles/${encodeURIComponent(name)}/put-back` } as const;
}

/** Runs that are printed by a profile, or whose artwork is read by it: their ticket says so, or their mode. */
function goesBy(profile: string): Parameters<typeof forgetCounts>[1] {
  return ({ ticket }, { modes }) => {
    const { rgb, cmyk } = ticket.artwork;
    const printed = ticket.profile ?? modes.find(({ id }) => id === ticket.modeId)?.profile;
    return [printed, rgb, cmyk ?? ASSUMED_CMYK].includes(profile);
  };
}

/** Changes a profile for the one that it replaced last, which is kept in its place. @throws Refused where it has replaced none */
export function putProfileBack(shop: Shop, name: string, actor: Actor): ProfileView {
  transact(shop, (work) => {
    const now = work.tx.select().from(profiles).where(eq(profiles.name, name)).get();
    if (!now?.before) throw new Refused(404, 'no-such-profile', `${name} has replaced no other profile.`);
    storeProfile(work.tx, name, now.before, now.bytes);
    forgetCounts(work, goesBy(name));
    work.touch({ type: 'setup', id: 'profiles' });
    work.note({
      kind: 'profile.putBack',
      subject: ['shop', 'profiles'],
      actor,
      data: { profile: name },
      undo: putBackStep(name),
    });
  });
  return viewOf(shop, name);
}

function viewOf(shop: Shop, name: string): ProfileView {
  const view = profileViews(shop.db).find((each) => each.name === name);
  if (!view) throw new Error(`profile ${name} was not stored`);
  return view;
}

/** Modes that ask for a profile, with the colours that they print. */
function modesAsking(
  db: Reader,
  profile: string,
): { readonly printer: string; readonly mode: string; readonly colours: readonly string[] }[] {
  return db
    .select({ name: printers.name, config: printers.config })
    .from(printers)
    .all()
    .flatMap(({ name, config }) =>
      config.modes
        .filter((mode) => mode.profile === profile)
        .map((mode) => ({
          printer: name,
          mode: mode.name,
          colours: config.channels.filter(({ id }) => id !== 'white').map((channel) => channel.name),
        })),
    );
}

/** Classes of profiles, by the standard: those of printers, and of what RGB artwork is made on. */
const PRINTERS_CLASS = 'prtr';
const ARTWORK_CLASSES: readonly string[] = ['mntr', 'scnr', 'spac'];

/** Opened, and a way through its tables tried, so that a damaged one is refused now and not at night. */
async function readable(bytes: Uint8Array): Promise<{ readonly channels: number; readonly isPrinters: boolean }> {
  const library = await ColourLibrary.open();
  try {
    const profile = library.profile(bytes);
    const { channels, deviceClass, space } = profile;
    const isPrinters = deviceClass === PRINTERS_CLASS;
    if (!isPrinters && !(ARTWORK_CLASSES.includes(deviceClass) && space === 'RGB'))
      throw new Unreadable('It is a profile neither of a printer nor of RGB artwork.');
    const lab = library.lab();
    if (isPrinters) library.transform(lab, profile, 'relative');
    library.transform(profile, lab, 'relative');
    return { channels, isPrinters };
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    throw new Refused(422, 'bad-profile', error.message, undefined, 'Export the profile again from where it was made.');
  } finally {
    library.close();
  }
}
