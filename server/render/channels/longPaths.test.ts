import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument, PDFName, PDFNumber, rgb } from '@cantoo/pdf-lib';
import { withShortPaths } from './longPaths.ts';
import { PageWindows } from './pageWindows.ts';

const DPI = 720;
const PT_PER_M = 72_000 / 25.4;
/** 0.5 × 20 m, by a user unit, as long runs are laid out. */
const UNIT = 4;
const [WIDTH_PT, HEIGHT_PT] = [0.5 * PT_PER_M, 20 * PT_PER_M];
const [WIDTH, HEIGHT] = [Math.round((WIDTH_PT / 72) * DPI), Math.round((HEIGHT_PT / 72) * DPI)];

let dir: string;
beforeAll(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
});
afterAll(() => {
  rmSync(dir, { recursive: true, force: true });
});

/** A page with this content, drawn as it is and again within a form that is turned and scaled. */
async function fileOf(name: string, content: string): Promise<string> {
  const document = await PDFDocument.create();
  const page = document.addPage([WIDTH_PT / UNIT, HEIGHT_PT / UNIT]);
  page.node.set(PDFName.of('UserUnit'), PDFNumber.of(UNIT));
  const form = document.context.register(
    document.context.flateStream(content, {
      ...{ Type: 'XObject', Subtype: 'Form', FormType: 1 },
      BBox: [-100_000, -100_000, 100_000, 100_000],
    }),
  );
  page.node.setXObject(PDFName.of('Art'), form);
  const contents = document.context.flateStream(`q ${String(1 / UNIT)} 0 0 ${String(1 / UNIT)} 0 0 cm /Art Do Q`);
  page.node.set(PDFName.of('Contents'), document.context.register(contents));
  const file = join(dir, `${name}.pdf`);
  writeFileSync(file, await document.save());
  return file;
}

/** Columns of a row that are printed. */
async function printedAt(file: string, rows: readonly number[]): Promise<number[][]> {
  const windows = await PageWindows.open(file, WIDTH, HEIGHT);
  try {
    return rows.map((row) => {
      windows.draw(row, row + 1);
      const pixels = windows.row(0);
      return Array.from({ length: WIDTH }, (_, x) => x).filter((x) => (pixels[x * 4 + 3] ?? 0) > 127);
    });
  } finally {
    windows.close();
  }
}

const ROWS = [1000, 60_000, 141_000, 283_465, 400_000, 566_000] as const;
const middle = (columns: readonly number[]): number => columns.reduce((sum, x) => sum + x, 0) / columns.length;

test('a diagonal across 20 m lies where it was drawn, all along', async () => {
  const file = await fileOf('diagonal', `4 w 0 ${String(HEIGHT_PT)} m ${String(WIDTH_PT)} 0 l S`);
  (await printedAt(file, ROWS)).forEach((columns, i) => {
    expect(columns.length).toBeGreaterThan(20);
    expect(Math.abs(middle(columns) - ((ROWS[i] ?? 0) + 0.5) * (WIDTH / HEIGHT))).toBeLessThan(2);
  });
});

test('so do a filled triangle that closes itself, one that is closed, a frame and a curve as long', async () => {
  const w = String(WIDTH_PT);
  const h = String(HEIGHT_PT);
  for (const [name, closing] of [
    ['open', 'f'],
    ['closed', 'h f'],
  ] as const) {
    // Its slanted side is the one that is not written where it closes itself.
    const file = await fileOf(name, `${w} 0 m 0 0 l 0 ${h} l ${closing}`);
    (await printedAt(file, ROWS)).forEach((columns, i) => {
      const edge = ((ROWS[i] ?? 0) + 0.5) * (WIDTH / HEIGHT);
      expect(Math.abs(columns.length - edge)).toBeLessThan(3);
    });
  }
  const frame = await fileOf('frame', `8 w 20 20 ${String(WIDTH_PT - 40)} ${String(HEIGHT_PT - 40)} re S`);
  for (const columns of await printedAt(frame, ROWS)) {
    const [left, right] = [columns.filter((x) => x < WIDTH / 2), columns.filter((x) => x > WIDTH / 2)];
    expect(Math.abs(middle(left) - 199.5)).toBeLessThan(2);
    expect(Math.abs(middle(right) - (WIDTH - 200.5))).toBeLessThan(2);
  }
  // A curve whose points lie evenly on a line is that line.
  const third = (share: number): string => `${String(WIDTH_PT * share)} ${String(HEIGHT_PT * (1 - share))}`;
  const curve = await fileOf('curve', `4 w 0 ${h} m ${third(1 / 3)} ${third(2 / 3)} ${third(1)} c S`);
  (await printedAt(curve, ROWS)).forEach((columns, i) => {
    expect(Math.abs(middle(columns) - ((ROWS[i] ?? 0) + 0.5) * (WIDTH / HEIGHT))).toBeLessThan(2);
  });
});

test('a form that is drawn small first and large after it lies right in both', async () => {
  const document = await PDFDocument.create();
  const page = document.addPage([WIDTH_PT / UNIT, HEIGHT_PT / UNIT]);
  page.node.set(PDFName.of('UserUnit'), PDFNumber.of(UNIT));
  const [w, h] = [WIDTH_PT / UNIT, HEIGHT_PT / UNIT];
  const form = document.context.register(
    document.context.flateStream(`1 w 0 ${String(h)} m ${String(w)} 0 l S`, {
      ...{ Type: 'XObject', Subtype: 'Form', FormType: 1, BBox: [-1000, -1000, w + 1000, h + 1000] },
    }),
  );
  page.node.setXObject(PDFName.of('Art'), form);
  // A fiftieth in a corner, so that nothing of it is long there, and the whole.
  const contents = document.context.flateStream('q 0.02 0 0 0.02 0 0 cm /Art Do Q /Art Do');
  page.node.set(PDFName.of('Contents'), document.context.register(contents));
  const file = join(dir, 'twice.pdf');
  writeFileSync(file, await document.save());
  (await printedAt(file, ROWS.slice(0, 5))).forEach((columns, i) => {
    expect(columns.length).toBeGreaterThan(20);
    expect(Math.abs(middle(columns) - ((ROWS[i] ?? 0) + 0.5) * (WIDTH / HEIGHT))).toBeLessThan(2);
  });
});

test('what has no long lines is drawn as it was: nothing is rewritten', async () => {
  const document = await PDFDocument.create();
  document.addPage([200, 300]).drawRectangle({ x: 10, y: 10, width: 100, height: 50, color: rgb(1, 0, 0) });
  expect(await withShortPaths(await document.save(), 4000, 6000)).toBeUndefined();
});
