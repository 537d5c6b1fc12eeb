import { readFile, stat } from 'node:fs/promises';
import { type PDFiumDocument, PDFiumLibrary } from '@hyzyla/pdfium';
import { WINDOW_COLUMNS } from '../../../core/raster/bands.ts';
import { withShortPaths } from './longPaths.ts';

/** What the page library's module offers beyond its types: windows of a page. */
interface PdfiumModule {
  readonly HEAPU8: Uint8Array;
  readonly wasmExports: { malloc(bytes: number): number; free(at: number): void };
  _FPDFBitmap_CreateEx(width: number, height: number, format: number, at: number, stride: number): number;
  _FPDF_RenderPageBitmap(
    bitmap: number,
    page: number,
    x: number,
    y: number,
    width: number,
    height: number,
    turn: number,
    flags: number,
  ): void;
  _FPDFBitmap_Destroy(bitmap: number): void;
  _FPDF_ClosePage(page: number): void;
}

/** Four bytes a pixel with alpha; of other formats transparency brings the library down. */
const BGRA = 4;
/** Red first. */
const REVERSED = 0x10;

let library: ReturnType<typeof PDFiumLibrary.init> | undefined;

/** Longer runs may have paths that the page library can't reach as a whole. */
const SAFE_SIDE = 30_000;

/** What was opened last: of a long run one part after the other is drawn, and to cut its paths takes a while. */
let lastDrawable: { readonly key: string; readonly bytes: Uint8Array } | undefined;

async function drawable(file: string, width: number, height: number): Promise<Uint8Array> {
  if (Math.max(width, height) <= SAFE_SIDE) return readFile(file);
  const { mtimeMs } = await stat(file);
  const key = JSON.stringify([file, mtimeMs, width, height]);
  if (lastDrawable?.key !== key) {
    const bytes = await readFile(file);
    lastDrawable = { key, bytes: (await withShortPaths(bytes, width, height)) ?? bytes };
  }
  return lastDrawable.bytes;
}

/** A laid-out run, drawn row by row at the dots of its coats: sheets one below the other. */
export class PageWindows {
  /** Where the rows lie that were drawn last, in the memory of the page library: a band of a long run is large, and is not copied. */
  private memory = 0;
  private room = 0;

  private constructor(
    private readonly module: PdfiumModule,
    private readonly document: PDFiumDocument,
    private readonly pages: readonly number[],
    private readonly width: number,
    private readonly height: number,
  ) {}

  /** @param file PDF of the run: one page, or one for each sheet. @param width dots of all of it, and its height */
  static async open(file: string, width: number, height: number): Promise<PageWindows> {
    library ??= PDFiumLibrary.init();
    const loaded = await library;
    const document = await loaded.loadDocument(await drawable(file, width, height));
    const { module } = loaded as unknown as { readonly module: PdfiumModule };
    const pages = Array.from(
      { length: document.getPageCount() },
      (_, i) => (document.getPage(i) as unknown as { readonly pageIdx: number }).pageIdx,
    );
    return new PageWindows(module, document, pages, width, height);
  }

  /**
   * Draws rows, to be read by {@link row}. Windows always lie at the same columns: edges of letters differ a little between two ways to cut
   * a page.
   * @param to without this row
   */
  draw(from: number, to: number): void {
    const { module, width } = this;
    this.clear((to - from) * width * 4);
    this.pages.forEach((page, i) => {
      // Rounded at the edges of the sheets, so that the rows of all of them are those of the whole.
      const top = this.edge(i);
      const bottom = this.edge(i + 1);
      const [first, end] = [Math.max(from, top), Math.min(to, bottom)];
      if (first >= end) return;
      for (let x = 0; x < width; x += WINDOW_COLUMNS) {
        const columns = Math.min(WINDOW_COLUMNS, width - x);
        const place = this.memory + ((first - from) * width + x) * 4;
        const bitmap = module._FPDFBitmap_CreateEx(columns, end - first, BGRA, place, width * 4);
        module._FPDF_RenderPageBitmap(bitmap, page, -x, top - first, width, bottom - top, 0, REVERSED);
        module._FPDFBitmap_Destroy(bitmap);
      }
    });
  }

  /**
   * Draws a part of the run made smaller, to be looked at; it holds until the next is drawn.
   * @param scale dots of a pixel, along each side @param part of it, in pixels
   * @returns interleaved RGBA, alpha not multiplied in; clear where nothing is printed
   */
  drawSmaller(
    scale: number,
    part: { readonly left: number; readonly top: number; readonly columns: number; readonly rows: number },
  ): Uint8Array {
    const { module } = this;
    const { left, top, columns, rows } = part;
    const bytes = columns * rows * 4;
    this.clear(bytes);
    const wide = Math.max(1, Math.round(this.width / scale));
    this.pages.forEach((page, i) => {
      const [from, to] = [Math.round(this.edge(i) / scale), Math.round(this.edge(i + 1) / scale)];
      const [first, end] = [Math.max(top, from), Math.min(top + rows, Math.max(to, from + 1))];
      if (first >= end) return;
      const place = this.memory + (first - top) * columns * 4;
      const bitmap = module._FPDFBitmap_CreateEx(columns, end - first, BGRA, place, columns * 4);
      module._FPDF_RenderPageBitmap(bitmap, page, -left, from - first, wide, Math.max(1, to - from), 0, REVERSED);
      module._FPDFBitmap_Destroy(bitmap);
    });
    return module.HEAPU8.subarray(this.memory, this.memory + bytes);
  }

  /** One of the rows that were drawn last, interleaved RGBA, alpha not multiplied in; clear where nothing is printed. It holds until the next. */
  row(i: number): Uint8Array {
    const from = this.memory + i * this.width * 4;
    return this.module.HEAPU8.subarray(from, from + this.width * 4);
  }

  close(): void {
    this.release();
    // A document that is closed does not give back its pages: of a long run that is some MB, for each of its parts.
    for (const page of this.pages) this.module._FPDF_ClosePage(page);
    this.document.destroy();
  }

  private edge(page: number): number {
    return Math.round((page / this.pages.length) * this.height);
  }

  /** Room for so many bytes, all of them clear. */
  private clear(bytes: number): void {
    const { module } = this;
    if (bytes > this.room) {
      this.release();
      this.memory = module.wasmExports.malloc(bytes);
      if (this.memory === 0) throw new Error('the page library has no memory left');
      this.room = bytes;
    }
    module.HEAPU8.fill(0, this.memory, this.memory + bytes);
  }

  private release(): void {
    if (this.memory !== 0) this.module.wasmExports.free(this.memory);
    this.memory = 0;
    this.room = 0;
  }
}
