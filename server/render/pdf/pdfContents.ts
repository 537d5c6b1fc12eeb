import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFRef,
  decodePDFRawStream,
} from '@cantoo/pdf-lib';
import type { Matrix } from './matrix.ts';

/** What a page paints, as one stream. @throws where it is larger than `mostBytes` */
export function decodedContents(page: PDFPage, mostBytes: number): Uint8Array {
  const contents = page.node.Contents();
  const streams =
    contents instanceof PDFArray ? contents.asArray().map((each) => page.node.context.lookup(each)) : [contents];
  const parts = streams.flatMap((stream) => (stream instanceof PDFRawStream ? [streamBytes(stream), NEWLINE] : []));
  if (parts.reduce((sum, part) => sum + part.length, 0) > mostBytes) throw new Error('too much on one page');
  return Buffer.concat(parts);
}

/** Streams of one page meet between two words. */
const NEWLINE = Buffer.from('\n', 'latin1');

/** What a stream holds, unpacked. */
export function streamBytes(stream: PDFRawStream): Uint8Array {
  return decodePDFRawStream(stream).decode();
}

/** A form to be painted; pictures are told by their name. */
export function formIn(document: PDFDocument, value: PDFObject | undefined): PDFRawStream | 'picture' | undefined {
  const stream = value instanceof PDFRef ? document.context.lookup(value) : value;
  if (!(stream instanceof PDFRawStream)) return undefined;
  return stream.dict.get(PDFName.of('Subtype')) === PDFName.of('Image') ? 'picture' : stream;
}

/** How a form maps its own space into that of whoever draws it. */
export function formMatrix({ dict }: PDFRawStream): Matrix {
  const own = dict
    .lookupMaybe(PDFName.of('Matrix'), PDFArray)
    ?.asArray()
    .map((each) => (each instanceof PDFNumber ? each.asNumber() : 0));
  return own?.length === 6 ? (own as unknown as Matrix) : [1, 0, 0, 1, 0, 0];
}

/** What of a stream tells how it is packed; one that is packed anew says it by itself. */
const PACKING = ['Length', 'Filter', 'DecodeParms'].map((each) => PDFName.of(each));
/** Forms within forms beyond this are left as they are. */
export const DEEPEST = 12;

/** Rewrites forms in place: each once, however often it is drawn. */
export class FormRewriter {
  private readonly seen = new Set<string>();

  /** @param rewrite what becomes of the content of a form that is drawn so deep, with its resources and its own name */
  constructor(
    private readonly document: PDFDocument,
    private readonly rewrite: (
      content: Uint8Array,
      resources: PDFDict | undefined,
      depth: number,
      ref: string,
    ) => Uint8Array,
  ) {}

  /** @param ref a form, or anything else: then nothing is done @param outer resources of whoever draws it */
  form(ref: PDFObject | undefined, outer: PDFDict | undefined, depth: number): void {
    const { context } = this.document;
    const stream = formIn(this.document, ref);
    if (!(ref instanceof PDFRef) || !stream || stream === 'picture' || depth >= DEEPEST) return;
    if (this.seen.has(ref.toString())) return;
    this.seen.add(ref.toString());
    const own = stream.dict.lookup(PDFName.of('Resources'));
    const content = this.rewrite(streamBytes(stream), own instanceof PDFDict ? own : outer, depth + 1, ref.toString());
    const made = context.flateStream(content);
    for (const [key, value] of stream.dict.entries()) if (!PACKING.includes(key)) made.dict.set(key, value);
    if (made instanceof PDFRawStream) context.assign(ref, made);
  }
}
