/*
 * Sheets: how many the nest takes, beside the fewest possible, on orders cut from whole sheets with a share of the pieces
 * taken away again, so that the number of sheets is known to suffice and one fewer can't hold the area.
 * Usage: npm run bench:sheets [-- milliseconds]
 */
import { nest } from '../../core/layout/nest.ts';
import type { NestPiece } from '../../core/layout/nestPiece.ts';
import { parseNestRequest } from '../../core/layout/nestInput.ts';
import { zeroWasteInstance } from '../../core/testing/zeroWaste.ts';
import { seededRandom } from '../../core/random.ts';

const LIMIT_MS = Number(process.argv[2] ?? 1000);
const SEEDS = 20;
const SHEET = { widthMm: 1000, lengthMm: 1400 };

/** `fill`: share of the sheets' area that the pieces take. */
function order(sheets: number, perSheet: number, fill: number, seed: number): NestPiece[] {
  const random = seededRandom(seed * 7919 + sheets * 31 + perSheet);
  const pieces = Array.from({ length: sheets }, (_, s) =>
    zeroWasteInstance(
      {
        pieces: perSheet,
        widthMm: SHEET.widthMm,
        lengthMm: SHEET.lengthMm,
        gapMm: 0,
        marginMm: 0,
        quarterTurn: seed % 2 === 0,
        cut: seed % 3 ? 'guillotine' : 'pinwheel',
        stepMm: 0.5,
        evenness: 0.25,
      },
      random,
    ).request.pieces.map((piece) => ({ ...piece, id: `${String(s)}-${piece.id}` })),
  ).flat();
  const whole = sheets * SHEET.widthMm * SHEET.lengthMm;
  let area = whole;
  const kept = [...pieces];
  // Small ones go first, so that the sheets stay as full as was asked for.
  for (let tries = 0; tries < 4000 && area > whole * fill; tries++) {
    const at = Math.floor(random() * kept.length);
    const piece = kept[at];
    if (!piece) break;
    const rest = area - piece.widthMm * piece.heightMm;
    if (rest <= ((sheets - 1) / sheets) * whole) continue;
    area = rest;
    kept.splice(at, 1);
  }
  return kept;
}

process.stdout.write(
  `Sheets taken over the known least, ${String(SEEDS)} instances a row, limit ${String(LIMIT_MS)} ms: as few as can be / one more / worse\n`,
);
for (const [sheets, perSheet] of [
  [2, 15],
  [4, 15],
  [4, 30],
  [10, 20],
] as const) {
  for (const fill of [0.94, 0.97, 0.99, 1]) {
    if (fill * sheets <= sheets - 1) continue;
    const over = Array.from({ length: SEEDS }, (_, seed) => {
      const pieces = order(sheets, perSheet, fill, seed);
      const parsed = parseNestRequest({
        widthMm: SHEET.widthMm,
        sheetMm: SHEET.lengthMm,
        gapMm: 0,
        marginMm: 0,
        pieces,
      });
      if (!parsed.ok) throw new Error(JSON.stringify(parsed.reason));
      const start = performance.now();
      const { lengthMm } = nest(parsed.value, {
        seed: 1,
        stepBudget: Number.MAX_SAFE_INTEGER,
        shouldStop: () => performance.now() - start > LIMIT_MS,
      });
      return Math.round(lengthMm / SHEET.lengthMm) - sheets;
    });
    const count = (test: (n: number) => boolean): string => String(over.filter(test).length).padStart(2);
    process.stdout.write(
      `${String(sheets).padStart(3)} sheets of ${String(perSheet)} pieces, ${String(fill * 100)} % full: ${count((n) => n === 0)} / ${count((n) => n === 1)} / ${count((n) => n > 1)}\n`,
    );
  }
}
