import { type FinishValues, finishPage } from '../ticket/finish.ts';
import type { FinishedPage, SourcePage } from '../ticket/finishedPage.ts';
import { NO_SIDES, PLAIN_TICKET } from '../ticket/ticket.ts';

/** A page as it came (mm). */
export const page = (widthMm: number, heightMm: number, bleed = NO_SIDES): SourcePage => ({ widthMm, heightMm, bleed });

/** It as a ticket makes it, on a roll with so much to print on; what is not said is as it came. */
export function finished(source: SourcePage, values: Partial<FinishValues>, usableWidthMm = 1590): FinishedPage {
  const made = finishPage(source, { ...PLAIN_TICKET, ...values }, usableWidthMm);
  if (!made.ok) throw new Error(made.reason.code);
  return made.value;
}
