import type { Actor } from '../../core/events/actor.ts';
import { mkdir, readFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { UploadResult, JobItem } from '../../contract/api/job.ts';
import { jobItem } from '../db/views.ts';
import { runItems } from '../db/runViews.ts';
import { formField, plainName } from './formFields.ts';
import type { Intake } from './intake.ts';
import { TICKET_ENDING, readTicketFile } from './readTicketFile.ts';
import { TicketBoard, problemText } from './ticketBoard.ts';
import { Refused, type Shop, newId } from '../shop.ts';
import { autoSubmit } from '../usecases/run/autoSubmit.ts';
import { rowContext } from '../usecases/arrival/rowContext.ts';
import { TicketService } from '../usecases/ticket/ticketService.ts';

type Uploaded = Express.Multer.File;

/** Uploaded files take the way of hot-folder files: claimed under their own name, then brought in. */
export async function bringInUploads(
  shop: Shop,
  intake: Intake,
  body: unknown,
  list: readonly Uploaded[],
  actor: Actor,
): Promise<UploadResult> {
  const { queueId, presetId, ticket, send, arrivalRule } = readFields(shop, body, list.length);
  const context = rowContext(shop, queueId);
  const result: UploadResult = { accepted: [], refused: [], problems: [], runs: [] };
  const named = list.map((file) => ({ file, name: plainName(file.originalname) }));
  const board = new TicketBoard();
  const tickets = [
    ...(ticket === undefined ? [] : [{ name: 'ticket.json', bytes: Buffer.from(ticket) }]),
    ...(await Promise.all(
      named
        .filter(({ name }) => TICKET_ENDING.test(name))
        .map(async ({ file, name }) => ({ name, bytes: await readFile(file.path) })),
    )),
  ];
  const forAll: { values: NonNullable<ReturnType<TicketBoard['take']>> }[] = [];
  for (const { name, bytes } of tickets) {
    const read = readTicketFile(name, bytes, context, shop.limits);
    if (!read.ok) {
      result.problems.push({ row: 0, file: name, text: read.reason });
      continue;
    }
    for (const row of read.rows) {
      if (row.problems.length > 0)
        result.problems.push({ row: row.row, file: row.file ?? null, text: problemText(row) });
    }
    const [only] = read.rows;
    // A ticket field without a file name is meant for everything that comes along with it.
    if (name === 'ticket.json' && ticket !== undefined && read.rows.length === 1 && only && only.file === undefined) {
      forAll.push({ values: only.problems.length > 0 ? { problem: problemText(only) } : { values: only.values } });
    } else board.add(name, read.rows, 0);
  }
  const outcomes = named.map(async ({ file, name }) => {
    if (TICKET_ENDING.test(name)) {
      await rm(file.path, { force: true });
      return undefined;
    }
    const claimId = newId('claim');
    const dir = join(shop.paths.uploads, claimId);
    await mkdir(dir, { recursive: true });
    const path = join(dir, 'file');
    await rename(file.path, path);
    const says = board.take(name) ?? forAll[0]?.values;
    const claim = {
      claimId,
      path,
      queueId,
      hotFolderId: null,
      sourceName: name,
      presetId: presetId ?? null,
      // What a person sends goes on below, all of it together.
      arrivalRule: send ? 'prepare' : arrivalRule,
      ...(says && 'values' in says ? { ticketFile: says.values } : {}),
      ...(says && 'problem' in says ? { problem: says.problem } : {}),
      sideDir: shop.paths.refused,
      doneDir: null,
    };
    try {
      return { name, outcome: await intake.accept(claim) };
    } catch (error) {
      // Whoever sent it has it still, and is told so.
      await rm(dir, { recursive: true, force: true });
      if (!shop.storage.noticed(error)) throw error;
      // Said of this file alone: others of the same request may be jobs already.
      const { text } = shop.storage.view();
      return { name, outcome: { refused: [text, 'Send it again.'].filter(Boolean).join(' ') } };
    }
  });
  const jobIds: string[] = [];
  for (const each of await Promise.all(outcomes)) {
    if (!each) continue;
    const { name, outcome } = each;
    if ('refused' in outcome) result.refused.push({ sourceName: name, reason: outcome.refused });
    else jobIds.push(...outcome.jobIds);
  }
  if (send && jobIds.length > 0) {
    const { runIds, stayed } = await autoSubmit(shop, jobIds, 0, actor);
    result.runs = runItems(shop.db, runIds).map(({ id, name }) => ({ id, name }));
    result.problems.push(...stayed.map(({ reason }) => ({ row: 0, file: null, text: reason })));
  }
  result.accepted = jobIds.map((id) => jobItem(shop.db, id)).filter((item): item is JobItem => item !== undefined);
  return result;
}

interface Fields {
  readonly queueId: string;
  readonly presetId: string | undefined;
  readonly ticket: string | undefined;
  readonly arrivalRule: 'wait' | 'prepare' | 'go' | null;
  readonly send: boolean;
}

/** What came beside the files. All of it is checked before the first file is touched. */
function readFields(shop: Shop, body: unknown, files: number): Fields {
  const text = (name: string): string | undefined => formField(body, name);
  if (files === 0) {
    throw new Refused(400, 'no-files', 'No files came with the request.', undefined, 'Send them as "files".');
  }
  const queueId = text('queueId');
  const desk = new TicketService(shop.db);
  try {
    desk.queue(queueId ?? '');
  } catch {
    throw new Refused(
      400,
      'no-such-queue',
      `There is no queue ${String(queueId)}.`,
      undefined,
      'Send "queueId" before the files.',
    );
  }
  const presetId = text('presetId');
  if (presetId !== undefined) desk.preset(presetId);
  const rule = text('arrivalRule');
  const arrivalRule = (['wait', 'prepare', 'go'] as const).find((each) => each === rule) ?? null;
  if (rule !== undefined && arrivalRule === null) {
    throw new Refused(400, 'bad-request', `There is no arrival rule ${rule}; there are wait, prepare and go.`);
  }
  return { queueId: queueId ?? '', presetId, ticket: text('ticket'), arrivalRule, send: text('send') === 'true' };
}
