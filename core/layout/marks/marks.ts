import { type RectMm, closerThan } from '../../geometry/frame.ts';
import { LINE_MM, type LaidMarks, type Mark, type MarkedRun, type SpreadPieces, fillPattern, moved } from './mark.ts';
import { sheetStartMm } from '../sheets/sheetSpans.ts';
import { codeShape } from './codeShape.ts';
import { cutMarks } from './cutMarks.ts';
import { pieceMarks } from './pieceMarks.ts';
import { CLEAR_MM, type MarkSettings, barAcrossMm, markBandsMm, markReachMm } from './markSettings.ts';
import { mmText } from '../../units/lengthText.ts';

/**
 * All marks of a run as it lies; on sheets, of each. Bands lie before the first and behind the last piece, the marks of pieces around them:
 *
 *      ┌ head: code, slug ┐
 *      │ ┘┌────┐└ ┘┌────┐└ │      dots or crosses along both sides,
 *      │ ┐└────┘┌ ┐└────┘┌ │      the strip along one edge
 *      └ foot: code, turned ┘
 */
export function marksOf(settings: MarkSettings, run: MarkedRun): LaidMarks {
  const laid = sheetsOf(run).map(({ pieces, startMm }) => {
    const { marks, troubles } = marksOfSheet(settings, { ...run, pieces });
    return { marks: marks.map((mark) => moved(mark, startMm)), troubles };
  });
  return {
    marks: laid.flatMap(({ marks }) => marks),
    troubles: [...new Set(laid.flatMap(({ troubles }) => troubles))],
  };
}

/** The registration marks among them: those that show through to the back. */
export function registrationOf(settings: MarkSettings, run: SpreadPieces): Mark[] {
  return sheetsOf(run).flatMap(({ pieces, startMm }) =>
    registration(settings, { ...run, pieces }).map((mark) => moved(mark, startMm)),
  );
}

/** What the exercise strip of a run prints with each of its channels in full (mm²): all sheets together; 0 without a strip. */
export function stripAreaMm2(
  { strip: { on, edge, widthMm, aheadMm } }: MarkSettings,
  run: SpreadPieces,
  channels: number,
): number {
  if (!on || channels === 0) return 0;
  return sheetsOf(run).reduce((sum, { pieces }) => {
    const { startMm, endMm } = extentOf({ ...run, pieces });
    const longMm = edge === 'across' ? run.usableWidthMm : endMm - Math.max(0, startMm - aheadMm);
    return sum + (widthMm / channels) * longMm;
  }, 0);
}

/** The pieces of each sheet, counted from where it begins; those of a roll are one. */
function sheetsOf<P extends RectMm>({
  sheetMm,
  pieces,
}: {
  readonly sheetMm: number | null;
  readonly pieces: readonly P[];
}): { readonly pieces: readonly P[]; readonly startMm: number }[] {
  if (pieces.length === 0) return [];
  if (sheetMm === null) return [{ pieces, startMm: 0 }];
  const sheets = new Map<number, P[]>();
  for (const piece of pieces) {
    const startMm = sheetStartMm(piece, sheetMm);
    const own = { ...piece, yMm: piece.yMm - startMm };
    const same = sheets.get(startMm);
    if (same) same.push(own);
    else sheets.set(startMm, [own]);
  }
  return [...sheets].map(([startMm, own]) => ({ pieces: own, startMm }));
}

function marksOfSheet(settings: MarkSettings, run: MarkedRun): LaidMarks {
  const troubles: string[] = [];
  const marks = [
    ...bands(settings, run, troubles),
    ...registration(settings, run),
    ...strip(settings, run),
    ...pieceMarks(settings, run, troubles),
    ...(settings.cut.on ? cutMarks(run.pieces, settings.cut.lengthMm, troubles) : []),
  ];
  return { marks, troubles };
}

function extentOf(run: SpreadPieces): { readonly startMm: number; readonly endMm: number } {
  return {
    startMm: run.pieces.reduce((least, piece) => Math.min(least, piece.yMm), Infinity),
    endMm: run.pieces.reduce((most, piece) => Math.max(most, piece.yMm + piece.heightMm), 0),
  };
}

function stripRoom({ strip: s }: MarkSettings, edge: 'left' | 'right'): number {
  return s.on && s.edge === edge ? s.awayMm + s.widthMm + CLEAR_MM : 0;
}

/** What stands ahead of the first piece and behind the last: codes and slug lines, next to one another in the room that is free. */
function bands(settings: MarkSettings, run: MarkedRun, troubles: string[]): Mark[] {
  const { code, slug } = settings;
  const left = stripRoom(settings, 'left');
  const right = run.usableWidthMm - stripRoom(settings, 'right');
  const { footMm } = markBandsMm(settings);
  const reach = extentOf(run);
  const marks: Mark[] = [];
  let textFrom = left;
  if (code.on) {
    const text = fillPattern(code.pattern, run.words);
    const modules = run.encode(code.kind, text);
    const shape = modules && codeShape(modules, code.heightMm, run.dpi);
    if (!shape) {
      troubles.push(`“${text}” can’t be said by this kind of code. Make it shorter, or take another kind.`);
    } else if (!shape.ok) {
      troubles.push(
        `The code is too small for ${text}: ${String(shape.reason.dots)} dots a module, ${String(shape.reason.leastDots)} are needed. Make it higher.`,
      );
    } else if (left + shape.value.widthMm > right) {
      troubles.push(`The code of ${text} is ${mmText(shape.value.widthMm)} wide; ${mmText(right - left)} are free.`);
    } else {
      const common = { kind: 'code' as const, text, shape: shape.value, white: code.white };
      if (code.ends !== 'foot') {
        marks.push({ ...common, xMm: left, yMm: run.leadMm, upsideDown: false });
        textFrom += shape.value.widthMm + CLEAR_MM;
      }
      if (code.ends !== 'head') {
        // At the end of the page; what the pieces' own marks need lies between.
        const yMm = reach.endMm + markReachMm(settings).behind + footMm - shape.value.heightMm;
        marks.push({ ...common, xMm: right - shape.value.widthMm, yMm, upsideDown: true });
      }
    }
  }
  if (slug.on) {
    const text = fillPattern(slug.pattern, run.words);
    marks.push({
      kind: 'text',
      text,
      xMm: textFrom,
      yMm: run.leadMm,
      heightMm: slug.heightMm,
      roomMm: right - textFrom,
    });
  }
  return marks;
}

/** Pairs along both sides, from the first to the last piece, no farther apart than asked. */
function registration(settings: MarkSettings, run: SpreadPieces): Mark[] {
  const { on, shape, sizeMm, everyMm } = settings.registration;
  if (!on) return [];
  const { startMm, endMm } = extentOf(run);
  const n = Math.max(1, Math.ceil((endMm - startMm - sizeMm) / everyMm));
  const xs = [stripRoom(settings, 'left') + sizeMm / 2, run.usableWidthMm - stripRoom(settings, 'right') - sizeMm / 2];
  return Array.from({ length: n + 1 }, (_, i) => startMm + sizeMm / 2 + (i / n) * (endMm - startMm - sizeMm)).flatMap(
    (y) =>
      xs.flatMap((x): Mark[] =>
        shape === 'dots'
          ? [{ kind: 'dot', xMm: x, yMm: y, diameterMm: sizeMm }]
          : [
              { kind: 'line', x1: x - sizeMm / 2, y1: y, x2: x + sizeMm / 2, y2: y },
              { kind: 'line', x1: x, y1: y - sizeMm / 2, x2: x, y2: y + sizeMm / 2 },
            ],
      ),
  );
}

/** One narrow bar for each channel, side by side, from ahead of the first piece to the end of the last; or one behind another across the media. */
function strip(settings: MarkSettings, run: MarkedRun): Mark[] {
  const { on, edge, widthMm, awayMm, aheadMm } = settings.strip;
  if (!on || run.channels.length === 0) return [];
  if (edge === 'across') {
    const from = run.leadMm + markBandsMm(settings).headMm - barAcrossMm(settings);
    const heightMm = widthMm / run.channels.length;
    return run.channels.map((colour, i) => ({
      ...{ kind: 'bar', colour, xMm: 0, yMm: from + i * heightMm, widthMm: run.usableWidthMm, heightMm },
    }));
  }
  const { startMm, endMm } = extentOf(run);
  const yMm = Math.max(0, startMm - aheadMm);
  // As {@link stripAreaMm2} counts it.
  const each = widthMm / run.channels.length;
  const from = edge === 'left' ? awayMm : run.usableWidthMm - awayMm - widthMm;
  return run.channels.map((colour, i) => ({
    kind: 'bar',
    colour,
    xMm: from + i * each,
    yMm,
    widthMm: each,
    heightMm: endMm - yMm,
  }));
}

/** The rectangle that a mark takes. */
export function markBox(mark: Mark): RectMm {
  switch (mark.kind) {
    case 'line': {
      const half = LINE_MM / 2;
      const xMm = Math.min(mark.x1, mark.x2) - half;
      const yMm = Math.min(mark.y1, mark.y2) - half;
      return {
        xMm,
        yMm,
        widthMm: Math.abs(mark.x1 - mark.x2) + LINE_MM,
        heightMm: Math.abs(mark.y1 - mark.y2) + LINE_MM,
      };
    }
    case 'bar':
      return mark;
    case 'dot': {
      const { xMm, yMm, diameterMm: d } = mark;
      return { xMm: xMm - d / 2, yMm: yMm - d / 2, widthMm: d, heightMm: d };
    }
    case 'text':
      return { xMm: mark.xMm, yMm: mark.yMm, widthMm: mark.roomMm, heightMm: mark.heightMm };
    case 'code':
      return { xMm: mark.xMm, yMm: mark.yMm, widthMm: mark.shape.widthMm, heightMm: mark.shape.heightMm };
  }
}

/** What a label can say of one piece. */
export function pieceWords(
  jobWords: Readonly<Record<string, string>> | undefined,
  piece: {
    readonly copy: number;
    readonly page: number;
    readonly part: string | null;
    readonly panel: { readonly no: number; readonly of: number } | null;
  },
  of: number,
): Record<string, string> {
  return {
    ...jobWords,
    copy: String(piece.copy + 1),
    of: String(of),
    page: String(piece.page + 1),
    part: piece.part ?? '',
    panel: piece.panel ? `${String(piece.panel.no)}/${String(piece.panel.of)}` : '',
  };
}

/** Marks that lie on a piece: what is laid by hand may leave them no room. */
export function marksOnPieces(marks: readonly Mark[], pieces: readonly RectMm[]): Mark[] {
  const order = [...pieces].sort((a, b) => a.yMm - b.yMm);
  const tallest = order.reduce((most, piece) => Math.max(most, piece.heightMm), 0);
  return marks.filter((mark) => {
    const box = markBox(mark);
    // Only pieces that begin within a piece's height before the mark can reach it.
    for (let i = firstFrom(order, box.yMm - tallest); i < order.length; i++) {
      const piece = order[i];
      if (!piece || piece.yMm > box.yMm + box.heightMm) return false;
      if (closerThan(piece, box, 0, 0)) return true;
    }
    return false;
  });
}

function firstFrom(order: readonly RectMm[], yMm: number): number {
  let lo = 0;
  let hi = order.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if ((order[mid]?.yMm ?? 0) < yMm) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}
