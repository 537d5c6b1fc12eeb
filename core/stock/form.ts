/** How a stock comes, and the kind of source that it goes into. */
export type StockForm = 'roll' | 'sheet' | 'garment';
export type SourceKind = 'roll' | 'tray' | 'bed';

const SOURCES: Record<StockForm, SourceKind> = { roll: 'roll', sheet: 'tray', garment: 'bed' };

/** Whether media of a form goes into a source of a kind. */
export function fitsSource(form: StockForm, kind: SourceKind): boolean {
  return SOURCES[form] === kind;
}

/** Whether one of these sources takes it; its width is another question. */
export function acceptsForm(sources: readonly { readonly kind: SourceKind }[], form: StockForm): boolean {
  return sources.some(({ kind }) => fitsSource(form, kind));
}
