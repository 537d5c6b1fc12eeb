import { counted } from '../../../core/counted.ts';
import { marksOnPieces } from '../../../core/layout/marks/marks.ts';
import { mmText } from '../../../core/units/lengthText.ts';
import type { Reader } from '../../db/open.ts';
import { clashesOfRun } from '../layout/clashesOfRun.ts';
import { type LaidRow, laidPieces } from '../layout/measureRun.ts';
import { marksOfRun } from '../layout/runMarks.ts';
import { printerOf } from '../run/runRows.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** What of a run would be printed twice, or not at all, in words; empty: every piece and mark is printed once. */
export function notPrintedOnce(db: Reader, run: RunRow): string[] {
  const laid = laidPieces(db, run.id);
  const placed = laid.filter((piece) => piece.placed);
  const { clashes, usableWidthMm } = clashesOfRun(printerOf(db, run).config, run, placed);
  const pairs = clashes.filter((clash) => clash.kind === 'pair');
  const outside = clashes.filter((clash) => clash.kind === 'out-of-bounds');
  const marks = marksOnPieces(marksOfRun(db, run, placed).marks, placed).length;
  const without = laid.length - placed.length;
  const named = new Map(placed.map((piece) => [piece.key, nameOf(piece)]));
  const [pair] = pairs;
  const [out] = outside;
  return [
    ...(pair
      ? [
          `${counted(pairs.length, 'pair')} of pieces ${pairs.length === 1 ? 'lies on each other and prints' : 'lie on each other and print'} twice there: ${named.get(pair.a) ?? ''} on ${named.get(pair.b) ?? ''}${more(pairs.length)}.`,
        ]
      : []),
    ...(marks > 0 ? [`${counted(marks, 'mark')} ${marks === 1 ? 'prints' : 'print'} on artwork.`] : []),
    ...(out
      ? [
          `${counted(outside.length, 'piece')} ${outside.length === 1 ? 'reaches' : 'reach'} beyond what can be printed (${mmText(usableWidthMm)} wide): ${named.get(out.key) ?? ''}${more(outside.length)}.`,
        ]
      : []),
    ...(without > 0
      ? [
          `${counted(without, 'piece')} of ${String(laid.length)} ${without === 1 ? 'has' : 'have'} no place, and ${without === 1 ? 'is' : 'are'} not printed.`,
        ]
      : []),
  ];
}

function nameOf({ sourceName, page, copy }: LaidRow): string {
  return `${sourceName}${page > 0 ? `, page ${String(page + 1)}` : ''}, copy ${String(copy + 1)}`;
}

function more(all: number): string {
  return all > 1 ? ` and ${String(all - 1)} more` : '';
}
