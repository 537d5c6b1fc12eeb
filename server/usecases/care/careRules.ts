import { signedInName } from '../../../core/events/actor.ts';
import { and, asc, eq } from 'drizzle-orm';
import type { CareRuleBody, CareRuleChange, CareRuleView } from '../../../contract/api/care.ts';
import { careRuleText } from '../../../core/care/careRule.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { careRules } from '../../db/tables/careTables.ts';
import type { Reader } from '../../db/open.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { mustBeSameVersion } from './sameVersion.ts';
import { carePrinter } from './careWork.ts';

export type CareRuleRow = typeof careRules.$inferSelect;
type PrinterRow = ReturnType<typeof carePrinter>;

/** A rule by its id. @throws Refused where there is none */
export function careRuleRow(db: Reader, id: string): CareRuleRow {
  const row = db.select().from(careRules).where(eq(careRules.id, id)).get();
  if (!row) throw new Refused(404, 'no-such-rule', `There is no rule ${id}.`);
  return row;
}

export function careRuleView({ changedBy: _by, ...row }: CareRuleRow): CareRuleView {
  return { ...row, printerIds: row.printerIds && [...row.printerIds], text: careRuleText(row) };
}

export function careRuleViews(db: Reader): CareRuleView[] {
  return db.select().from(careRules).orderBy(asc(careRules.id)).all().map(careRuleView);
}

/** The rules that hold. */
export function activeRules(db: Reader): CareRuleRow[] {
  return db.select().from(careRules).where(eq(careRules.paused, false)).orderBy(asc(careRules.id)).all();
}

/** Those that put care before the runs of a printer. White is stirred only where there is white. */
export function rulesOn(
  rules: readonly CareRuleRow[],
  { id, config }: Pick<PrinterRow, 'id' | 'config'>,
): CareRuleRow[] {
  return rules.filter(
    ({ printerIds, what }) =>
      (printerIds?.includes(id) ?? true) &&
      (what.kind !== 'stir' || config.channels.some((channel) => channel.id === 'white')),
  );
}

function mustNameRuns({ overMm, onlyImportant, printerIds }: CareRuleBody, { tx }: Work): void {
  for (const id of printerIds ?? []) carePrinter(tx, id);
  if (overMm !== null || onlyImportant) return;
  throw new Refused(
    422,
    'every-run',
    'The rule would put care before every run.',
    undefined,
    'Say how long a run must be, or that it must be marked as important.',
  );
}

export function createCareRule(shop: Shop, body: CareRuleBody, actor: Actor): string {
  const id = transact(shop, (work) => {
    mustNameRuns(body, work);
    const row = { ...body, id: newId('rule') };
    work.tx.insert(careRules).values(row).run();
    noted(work, 'care-rule.made', row, actor);
    return row.id;
  });
  shop.wakeDispatcher();
  return id;
}

/** Changes a rule; care that it has put into a line stays there. */
export function changeCareRule(
  shop: Shop,
  id: string,
  change: CareRuleChange,
  ifVersion: number | undefined,
  actor: Actor,
): void {
  transact(shop, (work) => {
    const before = careRuleRow(work.tx, id);
    mustBeSameVersion('rule', before, ifVersion);
    const { id: _id, version, changedBy: _by, ...old } = before;
    const next = { ...careRuleView(before), ...change };
    mustNameRuns(next, work);
    const { what, overMm, onlyImportant, printerIds, paused } = next;
    work.tx
      .update(careRules)
      .set({ what, overMm, onlyImportant, printerIds, paused, version: version + 1, changedBy: signedInName(actor) })
      .where(and(eq(careRules.id, id), eq(careRules.version, version)))
      .run();
    noted(work, 'care-rule.changed', next, actor, {
      label: 'Undo',
      method: 'PATCH',
      path: `/api/care-rules/${id}`,
      body: old,
    });
  });
  shop.wakeDispatcher();
}

/** Removes a rule; care that it has put into a line stays there. */
export function removeCareRule(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const { id: _id, version: _version, changedBy: _by, ...old } = careRuleRow(work.tx, id);
    work.tx.delete(careRules).where(eq(careRules.id, id)).run();
    noted(work, 'care-rule.removed', { id, ...old }, actor, {
      label: 'Undo',
      method: 'POST',
      path: '/api/care-rules',
      body: old,
    });
  });
  shop.wakeDispatcher();
}

function noted(
  work: Work,
  kind: 'care-rule.made' | 'care-rule.changed' | 'care-rule.removed',
  rule: Pick<CareRuleRow, 'id' | 'what' | 'overMm' | 'onlyImportant' | 'paused'>,
  actor: Actor,
  undo?: Parameters<Work['note']>[0]['undo'],
): void {
  const data = { rule: careRuleText(rule), paused: rule.paused };
  work.note({ kind, subject: ['shop', 'care'], actor, data, ...(undo ? { undo } : {}) });
  // The plans of all lines follow.
  for (const { id } of work.tx.select({ id: printers.id }).from(printers).all()) work.touch({ type: 'printer', id });
}
