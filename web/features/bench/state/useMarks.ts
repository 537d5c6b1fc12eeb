import { useEffect, useMemo, useState } from 'react';
import { fullMarks } from '../../../../core/layout/marks/markSettings.ts';
import type { LaidMarks, Mark } from '../../../../core/layout/marks/mark.ts';
import { marksOf, marksOnPieces, pieceWords, registrationOf } from '../../../../core/layout/marks/marks.ts';
import { extentOf } from '../../../../core/layout/checkLayout.ts';
import { laidTrim } from '../../../../core/layout/trim.ts';
import { backMarks, isMirrored } from '../../../../core/layout/arrange/twoSides.ts';
import type { encodeCode } from '../../../draw/encodeCode.ts';
import type { Printer, RunDetail } from '../../../api/data.ts';
import { type Layout, contourOf, laidPieces, layoutOf } from './layoutState.ts';

type Encoder = typeof encodeCode;

/** The encoder of codes is large: it comes when the first code is wanted. */
function useEncoder(wanted: boolean): Encoder | undefined {
  const [encoder, setEncoder] = useState<Encoder>();
  useEffect(() => {
    if (!wanted || encoder) return;
    void import('../../../draw/encodeCode.ts').then((module) => {
      setEncoder(() => module.encodeCode);
    });
  }, [wanted, encoder]);
  return encoder;
}

export interface BenchMarks extends LaidMarks {
  /** How many lie on artwork. */
  readonly onArt: number;
}

/** The marks of a run while it is laid out, as they will be printed. */
export function useMarks(
  run: Pick<RunDetail, 'pieces' | 'contours' | 'mode' | 'words' | 'jobWords' | 'pair'>,
  layout: Layout,
  usableWidthMm: number,
  printer: Printer | undefined,
  front: RunDetail | undefined,
): BenchMarks {
  const { marks: kept, leadMm, sheetMm = null } = layout.settings;
  const marks = useMemo(() => fullMarks(kept), [kept]);
  const encode = useEncoder(marks.code.on || marks.pieceCode.on);
  const { pieces, contours, mode, words, jobWords } = run;
  const mirrored = run.pair?.side === 'back' && isMirrored(run.pair);
  const channels = printer?.config.channels;
  return useMemo(() => {
    const laid = laidPieces({ pieces, contours }, layout.places);
    const byId = new Map(pieces.map((piece) => [piece.pieceId, piece]));
    const counts = new Map<string, number>();
    for (const { jobId, copy } of pieces) counts.set(jobId, Math.max(counts.get(jobId) ?? 0, copy + 1));
    // Without its encoder yet, the code is drawn a moment later.
    const without = { code: { ...marks.code, on: false }, pieceCode: { ...marks.pieceCode, on: false } };
    const wanted = encode ? marks : { ...marks, ...without };
    const made = marksOf(wanted, {
      usableWidthMm,
      leadMm,
      sheetMm,
      pieces: laid.map((rect) => {
        const piece = byId.get(rect.key);
        const place = layout.places.get(rect.key);
        return {
          ...extentOf(rect),
          trim:
            piece && place
              ? laidTrim({ ...piece, cut: contourOf({ contours }, piece)?.cut ?? [] }, place, mirrored)
              : extentOf(rect),
          jobId: piece?.jobId ?? '',
          words: piece ? pieceWords(jobWords[piece.jobId], piece, counts.get(piece.jobId) ?? 1) : {},
        };
      }),
      words,
      dpi: { x: mode.dpiX, y: mode.dpiY },
      channels: (channels ?? []).map((channel) => channel.colour),
      encode: encode ?? (() => ({ kind: 'bars', widths: [1] })),
    });
    const all = front ? [...made.marks, ...fromFront(front)] : made.marks;
    return { ...made, marks: all, onArt: marksOnPieces(all, laid).length };
  }, [
    pieces,
    contours,
    layout.places,
    marks,
    leadMm,
    sheetMm,
    usableWidthMm,
    words,
    jobWords,
    mode,
    channels,
    encode,
    front,
    mirrored,
  ]);
}

/** A back also has its front's registration marks, at the same places of the media. */
function fromFront(front: RunDetail): Mark[] {
  const { pair, settings, usableWidthMm, usableFromMm } = front;
  if (!pair) return [];
  const pieces = laidPieces(front, layoutOf(front).places).map(extentOf);
  const sheetMm = settings.sheetMm ?? null;
  const through = registrationOf(fullMarks(settings.marks), { usableWidthMm, sheetMm, pieces });
  return backMarks(through, { ...front, sheetMm }, pair, usableFromMm);
}
