import { type PDFDict, type PDFDocument, PDFName, type PDFPage } from '@cantoo/pdf-lib';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import { FormRewriter, decodedContents, formIn } from './pdfContents.ts';
import { FILLS, PaintState, STROKES, nameIn } from './colours/paintState.ts';
import { walkContent } from './pdfTokens.ts';

const MOST_BYTES = 256 * 1024 * 1024;
/** What paints without a path; in a layer that is left out it paints nothing. */
const PAINTS = new Set(['Tj', 'TJ', "'", '"', 'sh', 'Do']);

/**
 * Takes the line that a piece is cut along out of its artwork: a knife follows it, no ink does. Everything else stays as it is.
 * @param page is changed, and so are its forms; it belongs to a document of its own
 */
export function dropCutLine(document: PDFDocument, page: PDFPage, line: Pick<CutLine, 'from' | 'name'>): void {
  const { name } = line;
  if (line.from === 'picture' || name === null) return;
  const dropper = new Dropper(document, line.from, name);
  const content = dropper.content(decodedContents(page, MOST_BYTES), page.node.Resources(), 0);
  page.node.set(PDFName.of('Contents'), document.context.register(document.context.flateStream(content)));
}

/** Rewrites the content of a page and of its forms. Each form is rewritten once, however often it is drawn. */
class Dropper {
  private readonly forms: FormRewriter;

  constructor(
    private readonly document: PDFDocument,
    private readonly from: 'spot' | 'layer',
    private readonly name: string,
  ) {
    this.forms = new FormRewriter(document, (bytes, resources, depth) => this.content(bytes, resources, depth));
  }

  content(bytes: Uint8Array, resources: PDFDict | undefined, depth: number): Uint8Array {
    const state = new PaintState(this.document, resources);
    const out: Uint8Array[] = [];
    let kept = 0;
    walkContent(bytes, (operator, operands, from, to) => {
      state.apply(operator, operands);
      if (operator === 'Do') this.forms.form(state.entry('XObject', nameIn(operands, 0)), resources, depth);
      const instead = this.instead(state, operator, operands[0]);
      if (instead === null) return;
      out.push(bytes.subarray(kept, from), Buffer.from(instead, 'latin1'));
      kept = to;
    });
    out.push(bytes.subarray(kept));
    return Buffer.concat(out);
  }

  /** What an operator becomes; null: it stays. */
  private instead(state: PaintState, operator: string, first: unknown): string | null {
    if (this.from === 'layer') {
      const inside = state.layers.includes(this.name);
      const painted = operator === 'Do' && this.formLayer(state, String(first).slice(1)) === this.name;
      if (!inside && !painted) return null;
      if (PAINTS.has(operator)) return '';
      return STROKES.has(operator) || FILLS.has(operator) ? 'n' : null;
    }
    if (!STROKES.has(operator) && !FILLS.has(operator)) return null;
    const { stroke, fill } = state.spots(operator);
    const noStroke = stroke === this.name;
    const noFill = fill === this.name;
    if (!noStroke && !noFill) return null;
    const strokes = STROKES.has(operator) && !noStroke;
    const fills = FILLS.has(operator) && !noFill;
    if (strokes) return operator.startsWith('b') || operator === 's' ? 's' : 'S';
    if (fills) return operator.endsWith('*') ? 'f*' : 'f';
    return 'n';
  }

  private formLayer(state: PaintState, name: string): string | null {
    const stream = formIn(this.document, state.entry('XObject', name));
    return stream && stream !== 'picture' ? state.layerOf(stream.dict.get(PDFName.of('OC'))) : null;
  }
}
