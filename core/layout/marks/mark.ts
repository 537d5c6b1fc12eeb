import type { RectMm } from '../../geometry/frame.ts';
import type { CodeModules, CodeShape } from './codeShape.ts';
import type { CodeKind } from './markSettings.ts';

/** One thing to be drawn, in black unless it says otherwise. Frame of the run; x from the left end of the usable width. */
export type Mark =
  | { readonly kind: 'line'; readonly x1: number; readonly y1: number; readonly x2: number; readonly y2: number }
  | ({ readonly kind: 'bar'; readonly colour: string | null } & RectMm)
  | { readonly kind: 'dot'; readonly xMm: number; readonly yMm: number; readonly diameterMm: number }
  | {
      readonly kind: 'text';
      readonly text: string;
      /** Upper left corner of the line, its height, and the room that it must fit into. */
      readonly xMm: number;
      readonly yMm: number;
      readonly heightMm: number;
      readonly roomMm: number;
    }
  | {
      readonly kind: 'code';
      readonly text: string;
      readonly xMm: number;
      readonly yMm: number;
      readonly shape: CodeShape;
      /** Turned by half, so that it reads the same whichever end is fed first. */
      readonly upsideDown: boolean;
      /** White under the whole of it, quiet zone included. */
      readonly white: boolean;
    };

export interface MarkedPiece extends RectMm {
  /** Where it is cut. */
  readonly trim: RectMm;
  readonly jobId: string;
  /** What its label and code can say. */
  readonly words: Readonly<Record<string, string>>;
}

/** Pieces as they lie on a run's media. */
export interface SpreadPieces {
  readonly usableWidthMm: number;
  /** Every sheet has marks of its own; null on a roll. */
  readonly sheetMm: number | null;
  readonly pieces: readonly RectMm[];
}

export interface MarkedRun extends SpreadPieces {
  readonly leadMm: number;
  readonly pieces: readonly MarkedPiece[];
  readonly words: Readonly<Record<string, string>>;
  readonly dpi: { readonly x: number; readonly y: number };
  /** Colours of the channels, for the exercise strip. */
  readonly channels: readonly string[];
  /** Undefined: no such code can say this text. */
  readonly encode: (kind: CodeKind, text: string) => CodeModules | undefined;
}

export interface LaidMarks {
  readonly marks: readonly Mark[];
  /** Why something that is asked for can't be drawn. */
  readonly troubles: readonly string[];
}

/** Thickness of lines (mm): seen by an eye and by a camera, lost on no device. */
export const LINE_MM = 0.25;

/** A mark so much farther along the feed. */
export function moved(mark: Mark, mm: number): Mark {
  return mark.kind === 'line' ? { ...mark, y1: mark.y1 + mm, y2: mark.y2 + mm } : { ...mark, yMm: mark.yMm + mm };
}

/** Where a mark begins along the feed (mm). */
export function startOf(mark: Mark): number {
  return mark.kind === 'line' ? Math.min(mark.y1, mark.y2) : mark.yMm;
}

/** Puts words into a pattern: `{order}` becomes the order; a name that is not known stays as it is. */
export function fillPattern(pattern: string, words: Readonly<Record<string, string>>): string {
  return pattern
    .replace(/\{(\w+)\}/g, (whole, name: string) => words[name] ?? whole)
    .replace(/\s+/g, ' ')
    .trim();
}
