import { PDFArray, PDFDict, type PDFDocument, PDFName, type PDFObject, PDFRef } from '@cantoo/pdf-lib';
import { type Matrix, multiply } from '../matrix.ts';
import type { Operand } from '../pdfTokens.ts';

/** What the operators of a content stream paint with: spot colours by name, null for every other colour. */
interface Paint {
  readonly matrix: Matrix;
  readonly stroke: string | null;
  readonly fill: string | null;
}

const name = (text: string): PDFName => PDFName.of(text);

export const STROKES = new Set(['S', 's', 'B', 'B*', 'b', 'b*']);
export const FILLS = new Set(['f', 'F', 'f*', 'B', 'B*', 'b', 'b*']);

/** Follows a content stream: where one is, in which spot colours it paints, and in which layers. */
export class PaintState {
  private paint: Paint;
  private readonly stack: Paint[] = [];
  private readonly marked: (string | null)[] = [];

  constructor(
    private readonly document: PDFDocument,
    private readonly resources: PDFDict | undefined,
    matrix: Matrix = [1, 0, 0, 1, 0, 0],
    private readonly outer: readonly string[] = [],
  ) {
    this.paint = { matrix, stroke: null, fill: null };
  }

  get matrix(): Matrix {
    return this.paint.matrix;
  }

  get layers(): readonly string[] {
    return [...this.outer, ...this.marked.filter((each) => each !== null)];
  }

  /** The spot colours that a painting operator uses. */
  spots(operator: string): { readonly stroke: string | null; readonly fill: string | null } {
    return {
      stroke: STROKES.has(operator) ? this.paint.stroke : null,
      fill: FILLS.has(operator) ? this.paint.fill : null,
    };
  }

  apply(operator: string, operands: readonly Operand[]): void {
    switch (operator) {
      case 'q':
        if (this.stack.length < 500) this.stack.push(this.paint);
        break;
      case 'Q':
        this.paint = this.stack.pop() ?? this.paint;
        break;
      case 'cm': {
        const n = operands.filter((each) => typeof each === 'number');
        if (n.length >= 6) this.paint = { ...this.paint, matrix: multiply(n as unknown as Matrix, this.paint.matrix) };
        break;
      }
      case 'CS':
        this.paint = { ...this.paint, stroke: this.spotOf(nameIn(operands, 0)) };
        break;
      case 'cs':
        this.paint = { ...this.paint, fill: this.spotOf(nameIn(operands, 0)) };
        break;
      case 'G':
      case 'RG':
      case 'K':
        this.paint = { ...this.paint, stroke: null };
        break;
      case 'g':
      case 'rg':
      case 'k':
        this.paint = { ...this.paint, fill: null };
        break;
      case 'BMC':
        this.marked.push(null);
        break;
      case 'BDC':
        this.marked.push(
          nameIn(operands, 0) === 'OC' ? this.layerOf(this.entry('Properties', nameIn(operands, 1))) : null,
        );
        break;
      case 'EMC':
        this.marked.pop();
        break;
    }
  }

  /** A resource as it stands: often a reference. */
  entry(kind: string, key: string): PDFObject | undefined {
    const dict = this.resources?.lookup(name(kind));
    return dict instanceof PDFDict ? dict.get(name(key)) : undefined;
  }

  /** Name of an optional content group. */
  layerOf(value: PDFObject | undefined): string | null {
    const group = value instanceof PDFRef ? this.document.context.lookup(value) : value;
    if (!(group instanceof PDFDict)) return null;
    const written: unknown = group.lookup(name('Name'));
    return hasText(written) ? written.decodeText() : null;
  }

  private spotOf(key: string): string | null {
    const value = this.entry('ColorSpace', key);
    const space = value instanceof PDFRef ? this.document.context.lookup(value) : value;
    if (!(space instanceof PDFArray) || space.lookup(0) !== name('Separation')) return null;
    const spot = space.lookup(1);
    return spot instanceof PDFName ? spot.decodeText() : null;
  }
}

function hasText(value: unknown): value is { decodeText: () => string } {
  return typeof value === 'object' && value !== null && 'decodeText' in value;
}

/** The name that an operator was given, without its slash; empty where there is none. */
export function nameIn(operands: readonly Operand[], which: number): string {
  const names = operands.filter((each) => typeof each === 'string');
  return names[which]?.slice(1) ?? '';
}
