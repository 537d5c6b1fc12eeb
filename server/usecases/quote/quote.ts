import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { MOST_QUANTITIES, type QuoteView, type QuotedView } from '../../../contract/api/pace/quote.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { quotePriceMinor } from '../../../core/estimate/quotePrice.ts';
import { partsOf } from '../../../core/ticket/parts.ts';
import type { Ticket, TicketPart } from '../../../core/ticket/ticket.ts';
import { type PieceSource, nestPiece } from '../../db/runViews.ts';
import type { RunHow } from '../../ports/work.ts';
import type { FileFacts } from '../../render/facts.ts';
import { Refused, type Shop, newId } from '../../shop.ts';
import type { FitWork } from '../plan/fitWork.ts';
import { readFloor } from '../plan/fit.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import { panelCount, pieceKinds } from '../ticket/outstandingPieces.ts';
import { TicketService } from '../ticket/ticketService.ts';
import type { QuotedFit } from './quoteWork.ts';

/** More pieces are a stock of their own, and lie on many rolls. */
const MOST_PIECES = 20_000;
const JOB = 'quoted';

/** What is asked of a file. */
export interface QuoteAsk {
  readonly queueId: string;
  readonly presetId: string | undefined;
  readonly copies: readonly number[];
  /** What the ticket of the job would say. */
  readonly said: TicketPart;
  readonly file: { readonly path: string; readonly name: string };
}

/**
 * What a file would cost and bring on each printer, in so many copies, and by when it would be done: read, checked, laid out and
 * planned as a job would be, by the same code. Nothing is kept: what is read of it is written to a folder that goes with the answer.
 * @throws Refused where the file, its ticket or the numbers of copies are no good
 */
export async function quote(shop: Shop, ask: QuoteAsk, how: RunHow = {}): Promise<QuoteView> {
  const desk = new TicketService(shop.db);
  const { queueId } = ask;
  const ticket = desk.stamp(queueId, {
    ...(ask.presetId === undefined ? {} : { presetId: ask.presetId }),
    ticketFile: ask.said,
  });
  const facts = await looked(shop, ask.file, how);
  const { findings, finished } = desk.judge(queueId, ticket, facts.nature, facts.pages);
  const [first] = finished;
  const setup = shopSetup(shop.db, shop.clock.zone);
  const terms = { marginShare: setup.marginShare ?? 0, leastPriceMinor: setup.leastPriceMinor ?? 0 };
  const floor = readFloor(shop);
  const blocked = finished.some((page) => page === undefined);
  const asks = blocked
    ? []
    : ask.copies.map((copies) => ({ copies, work: workOf(queueId, ticket, facts, finished, copies) }));
  const quoted = asks.length === 0 ? [] : await shop.work.run('quote', { floor, asks }, how);
  return {
    currency: shop.currency(),
    ...terms,
    sourceName: ask.file.name,
    pages: facts.pages.length,
    widthMm: first?.widthMm ?? facts.pages[0]?.widthMm ?? 0,
    heightMm: first?.heightMm ?? facts.pages[0]?.heightMm ?? 0,
    stockName: desk.stock(ticket.values.stockId).name,
    findings: findings.map(({ severity, text, mends }) => ({ severity, text, remedy: mends[0]?.text ?? null })),
    quantities: quoted.map((printers, i) => ({
      copies: asks[i]?.copies ?? 0,
      printers: printers
        .map((each) => quotedView(each, floor, terms))
        .sort((a, b) => (a.can && b.can ? a.priceMinor - b.priceMinor : Number(b.can) - Number(a.can))),
    })),
  };
}

/** Numbers of copies as they are written: `1, 10, 100`; none: one. */
export function copiesIn(text: string | undefined): number[] {
  const words = (text ?? '1').split(/[,;\s]+/).filter((word) => word !== '');
  const numbers = words.map(Number);
  const wrong = words.find((_, i) => !Number.isInteger(numbers[i]) || (numbers[i] ?? 0) < 1 || (numbers[i] ?? 0) > 1e5);
  if (wrong !== undefined || numbers.length === 0 || numbers.length > MOST_QUANTITIES) {
    const text =
      wrong === undefined ? `${String(numbers.length)} numbers of copies came.` : `${wrong} is no number of copies.`;
    throw new Refused(
      422,
      'copies',
      text,
      undefined,
      `Send one to ${String(MOST_QUANTITIES)} whole numbers, such as 1, 10, 100.`,
    );
  }
  return [...new Set(numbers)];
}

/** What the file is found to be, in a folder of its own. */
async function looked(shop: Shop, { path }: QuoteAsk['file'], how: RunHow): Promise<FileFacts> {
  const place = join(shop.paths.temporary, newId('quote'));
  await mkdir(place, { recursive: true });
  try {
    const answer = await shop.work.run('quote look', { path, place }, how);
    if (!answer.ok) throw new Refused(422, 'unreadable', answer.reason);
    return answer.facts;
  } finally {
    await rm(place, { recursive: true, force: true });
  }
}

function workOf(
  queueId: string,
  ticket: Ticket,
  { pages, nature }: FileFacts,
  finished: readonly (PieceSource['finished'] | undefined)[],
  copies: number,
): FitWork {
  const kinds = pieceKinds(
    pages.map((_, page) => panelCount(finished[page])),
    partsOf(ticket.values.separations, nature.spots),
  );
  if (kinds.length * copies > MOST_PIECES) {
    const text = `${String(copies)} copies are ${String(kinds.length * copies)} pieces; ${String(MOST_PIECES)} can be quoted.`;
    throw new Refused(422, 'too-many', text, undefined, 'Ask for fewer copies.');
  }
  const values = { ...ticket.values, copies };
  const rows = Array.from({ length: copies }, (_, copy) =>
    kinds.map(({ page, part, tile }) => ({
      ...{
        pieceId: `${String(copy)}/${String(page)}/${part ?? ''}/${String(tile ?? '')}`,
        jobId: JOB,
        page,
        part,
        tile,
      },
      source: { ...(pages[page] as FileFacts['pages'][number]), finished: finished[page] ?? null },
    })),
  ).flat();
  return {
    jobs: [{ id: JOB, queueId, ticket: { ...ticket, values } }],
    pieces: rows.map(({ source, tile, ...row }) => nestPiece(row, source, tile, values)),
    coverage: Object.fromEntries(pages.map(({ coverage }, page) => [`${JOB}/${String(page)}`, coverage])),
    cuts: Object.fromEntries(pages.map((_, page) => [`${JOB}/${String(page)}`, finished[page]?.contour?.cut ?? []])),
  };
}

function quotedView(
  { fit, place }: QuotedFit,
  { printers }: ReturnType<typeof readFloor>,
  terms: Parameters<typeof quotePriceMinor>[1],
): QuotedView {
  const { printerId, printerName } = fit;
  if (!fit.can) return { can: false, printerId, printerName, troubles: [...fit.troubles] };
  if (!place) {
    const troubles = [{ code: 'when', text: 'The plan has no time for it', way: 'Make room in its line, or wait.' }];
    return { can: false, printerId, printerName, troubles };
  }
  const mode = printers.find(({ id }) => id === printerId)?.config.modes.find(({ id }) => id === fit.modeId);
  return {
    can: true,
    ...{ printerId, printerName, modeName: mode?.name ?? fit.modeId },
    priceMinor: quotePriceMinor(fit.costMicro, terms),
    costMinor: toMinor(fit.costMicro),
    inkMinor: fit.terms.inkMinor,
    mediaMinor: fit.mediaMinor + fit.terms.wasteMinor,
    timeMinor: fit.terms.timeMinor,
    ...{ lengthMm: fit.lengthMm, fedMm: fit.fedMm, timeMs: fit.timeMs },
    behind: place.behind,
    startMs: Math.round(place.startMs),
    endMs: Math.round(place.endMs),
    byMs: place.byMs,
  };
}
