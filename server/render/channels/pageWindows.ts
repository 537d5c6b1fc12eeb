import { readFile, stat } from 'node:fs/promises';
import { type PDFiumDocument, PDFiumLibrary } from '@hyzyla/pdfium';
import { WINDOW_COLUMNS } from '../../../core/raster/bands.ts';
import { withShortPaths } from './longPaths.ts';

/** What the page library's module offers beyond its types: windows of a page. */
interface PdfiumModule {
  readonly HEAPU8: Uint8Array;
  readonly wasmExports: { malloc(bytes: number): number; free(at: number): void };
  _FPDFBitmap_CreateEx(width: number, height: number, format: number, at: number, stride: number): number;
  _FPDFBitmap_FillRect(bitmap: number, x: number, y: number, width: number, height: number, colour: number): void;
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
   * Draws rows, interleaved RGBA, alpha not multiplied in; where nothing is printed they are clear. Windows always lie at the same columns:
   * edges of letters differ a little between two ways to cut a page.
   * @param to without this row
   * @param into of at least (to − from) · width · 4 bytes
   */
  draw(from: number, to: number, into: Uint8Array): void {
    this.pages.forEach((page, i) => {
      // Rounded at the edges of the sheets, so that the rows of all of them are those of the whole.
      const top = this.edge(i);
      const bottom = this.edge(i + 1);
      const [first, end] = [Math.max(from, top), Math.min(to, bottom)];
      if (first >= end) return;
      for (let x = 0; x < this.width; x += WINDOW_COLUMNS) {
        const columns = Math.min(WINDOW_COLUMNS, this.width - x);
        this.window(page, { x, y: first - top, columns, rows: end - first, pageRows: bottom - top }, (pixels, row) => {
          into.set(pixels, ((first - from + row) * this.width + x) * 4);
        });
      }
    });
  }

  close(): void {
    this.document.destroy();
  }

  private edge(page: number): number {
    return Math.round((page / this.pages.length) * this.height);
  }

  private window(
    page: number,
    at: {
      readonly x: number;
      readonly y: number;
      readonly columns: number;
      readonly rows: number;
      readonly pageRows: number;
    },
    each: (pixels: Uint8Array, row: number) => void,
  ): void {
    const { module } = this;
    const { x, y, columns, rows, pageRows } = at;
    const stride = columns * 4;
    const memory = module.wasmExports.malloc(stride * rows);
    if (memory === 0) throw new Error('the page library has no memory left');
    const bitmap = module._FPDFBitmap_CreateEx(columns, rows, BGRA, memory, stride);
    try {
      module._FPDFBitmap_FillRect(bitmap, 0, 0, columns, rows, 0);
      module._FPDF_RenderPageBitmap(bitmap, page, -x, -y, this.width, pageRows, 0, REVERSED);
      // Its memory may have grown: the view is taken now.
      const { HEAPU8 } = module;
      for (let row = 0; row < rows; row += 1) {
        each(HEAPU8.subarray(memory + row * stride, memory + (row + 1) * stride), row);
      }
    } finally {
      module._FPDFBitmap_Destroy(bitmap);
      module.wasmExports.free(memory);
    }
  }
}
