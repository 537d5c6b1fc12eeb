/** What a picture of a print shows: how it will look, where its colours can't be printed, or where it asks for too much ink. */
export const PREVIEW_VIEWS = ['print', 'out of gamut', 'over the limit'] as const;
export type PreviewView = (typeof PREVIEW_VIEWS)[number];
