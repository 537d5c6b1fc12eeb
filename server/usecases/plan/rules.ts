import { type Actor } from '../../../core/events/actor.ts';
import { asc } from 'drizzle-orm';
import type { RuleList } from '../../../contract/api/shop.ts';
import type { Rule } from '../../../core/routing/rules.ts';
import type { Reader } from '../../db/open.ts';
import { rules } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, transact } from '../../shop.ts';

/** The routing rules in the order in which they are tried. */
export function ruleRows(db: Reader): Rule[] {
  return db.select().from(rules).orderBy(asc(rules.position)).all();
}

/** The routing rules as they go over the wire. */
export function ruleList(db: Reader): RuleList {
  return ruleRows(db).map(({ id, name, when, printerIds, on }) => ({
    id,
    name,
    when: [...when],
    printerIds: [...printerIds],
    on,
  }));
}

/** Sets all rules in their order at once; jobs that are here stay where they are. */
export function setRules(shop: Shop, list: RuleList, actor: Actor): void {
  const ids = new Set(list.map(({ id }) => id));
  if (ids.size < list.length) throw new Refused(422, 'same-id', 'Two rules have the same id.');
  transact(shop, (work) => {
    const { tx } = work;
    const known = new Set(
      tx
        .select({ id: printers.id })
        .from(printers)
        .all()
        .map(({ id }) => id),
    );
    for (const { name, printerIds } of list) {
      const stray = printerIds.find((id) => !known.has(id));
      if (stray !== undefined)
        throw new Refused(422, 'no-such-printer', `${name} names a printer that is not here: ${stray}.`);
    }
    const before = ruleList(tx);
    tx.delete(rules).run();
    list.forEach((rule, position) => {
      tx.insert(rules)
        .values({ ...rule, position })
        .run();
    });
    work.touch({ type: 'rules', id: 'rules' });
    work.note({
      kind: 'rules.changed',
      subject: ['shop', 'rules'],
      actor,
      data: { rules: list.length },
      undo: { label: 'Undo', method: 'PUT', path: '/api/rules', body: before },
    });
  });
}
