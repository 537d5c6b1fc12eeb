import type { RunHow } from '../../ports/work.ts';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { inArray } from 'drizzle-orm';
import type { WorksheetOrder } from '../../../contract/api/job.ts';
import { jobs } from '../../db/tables/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { mmText } from '../../../core/units/lengthText.ts';

/** A worksheet of codes for jobs, in the order in which they are named, as PDF. */
export async function worksheetOf(shop: Shop, order: WorksheetOrder, how: RunHow = {}): Promise<Uint8Array> {
  const { jobIds, columns, rows, gapMm, kind } = order;
  const found = new Map(
    shop.db
      .select()
      .from(jobs)
      .where(inArray(jobs.id, jobIds))
      .all()
      .map((job) => [job.id, job]),
  );
  const zone = tz(shop.clock.zone);
  const entries = jobIds.map((id) => {
    const job = found.get(id);
    if (!job) throw new Refused(404, 'no-such-job', `There is no job ${id}.`);
    const { orderNo, customer, copies, dueMs } = job.ticket.values;
    const facts = [orderNo, customer].filter((each) => each !== null).join(', ');
    const count = `${String(copies)} ${copies === 1 ? 'copy' : 'copies'}`;
    const due = dueMs === null ? '' : `, due ${format(dueMs, 'EEE d MMM HH:mm', { in: zone })}`;
    return { code: id, lines: [job.sourceName, facts === '' ? ' ' : facts, `${count}${due}`] };
  });
  const title = `Jobs, ${format(shop.clock.now(), 'EEE d MMM yyyy', { in: zone })}`;
  const answer = await shop.work.run('worksheet', { title, places: { columns, rows }, gapMm, kind, entries }, how);
  if (!answer.ok) {
    const { needsMm, roomMm } = answer;
    throw new Refused(
      422,
      'too-large-for-place',
      `A code is larger than its place: ${mmText(needsMm)} of ${mmText(Math.max(0, roomMm))}.`,
      { needsMm, roomMm },
      kind === 'qr' ? 'Take fewer rows or columns.' : 'Take fewer columns, or QR codes.',
    );
  }
  return answer.bytes;
}
