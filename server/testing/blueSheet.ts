import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import { jobs } from '../db/tables/schema.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { createRun } from '../usecases/run/createRun.ts';
import type { TestHttp } from './httpFixture.ts';
import { TESTER } from './tester.ts';

/** A run of a blue sheet of paper, 60 mm wide, on Wren, laid out: its file is *blue 40.pdf*. @returns its id */
export async function blueSheet(http: TestHttp, heightMm = 40): Promise<string> {
  const document = await PDFDocument.create();
  const page = document.addPage([(60 * 72) / 25.4, (heightMm * 72) / 25.4]);
  page.drawRectangle({ x: 0, y: 0, width: 400, height: 400, color: rgb(0.1, 0.3, 0.8) });
  const name = `blue ${String(heightMm)}.pdf`;
  await http.upload('wren-transfers', [name, await document.save()]);
  return runOfFile(http, name);
}

/** A run of the job of a file, laid out. @returns its id */
export async function runOfFile(http: TestHttp, name: string): Promise<string> {
  const job = http.shop.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.sourceName, name)).get();
  const id = createRun(http.shop, [job?.id ?? ''], TESTER);
  layOutRun(http.shop, id, await nestDraft(http.shop, id, 20), { by: TESTER });
  return id;
}
