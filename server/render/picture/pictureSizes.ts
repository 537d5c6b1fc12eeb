/** Longest side in pixels. Apart from pictures.ts, so that the server's own thread never loads the image library. */
export const PICTURE_SIZES = { thumb: 192, view: 1600 } as const;
export type PictureSize = keyof typeof PICTURE_SIZES;
