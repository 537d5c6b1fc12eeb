/** How the rendering of a run for its printer stands. */
export type RunRendering =
  | { readonly kind: 'under way'; /** 0 … 1 */ readonly share: number }
  | { readonly kind: 'failed'; readonly why: string };

/** Renderings that printers wait for. */
export interface RunRenderings {
  /** Undefined: nothing is rendered for this run, or all of it is. */
  of(runId: string): RunRendering | undefined;
}

/** Nothing is ever rendered: the shop has no printers that ask for it. */
export const NO_RENDERINGS: RunRenderings = { of: () => undefined };
