import { eq } from 'drizzle-orm';
import type { CrewView } from '../../../contract/api/hand.ts';
import type { Actor } from '../../../core/events/actor.ts';
import type { Reader } from '../../db/open.ts';
import { settings } from '../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../shop.ts';

const KEY = 'crew';

/** Whether a crew belongs to this shop, and whether it works. A shop with real people has none. */
export function crewView(db: Reader): CrewView {
  const value = db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).get()?.value;
  return { there: value !== undefined, on: value === 'on' };
}

/** The demo gets its crew, unless it has one already. */
export function hireCrew(db: Reader): void {
  db.insert(settings).values({ key: KEY, value: 'on' }).onConflictDoNothing().run();
}

/** Lets the crew work or rest. */
export function setCrew(shop: Shop, on: boolean, actor: Actor): CrewView {
  transact(shop, (work) => {
    if (!crewView(work.tx).there)
      throw new Refused(404, 'no-crew', 'This shop has no crew: its people load and confirm.');
    work.tx
      .update(settings)
      .set({ value: on ? 'on' : 'off' })
      .where(eq(settings.key, KEY))
      .run();
    work.touch({ type: 'setup', id: 'crew' });
    work.note({
      kind: on ? 'crew.works' : 'crew.rests',
      subject: ['shop', 'crew'],
      actor,
      data: {},
      undo: { label: 'Undo', method: 'PUT', path: '/api/crew', body: { on: !on } },
    });
  });
  return crewView(shop.db);
}
