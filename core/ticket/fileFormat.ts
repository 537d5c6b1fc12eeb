export const FILE_FORMATS = ['pdf', 'png', 'jpeg', 'tiff', 'svg'] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

export const FORMAT_NAMES: Readonly<Record<FileFormat, string>> = {
  pdf: 'PDF',
  png: 'PNG',
  jpeg: 'JPEG',
  tiff: 'TIFF',
  svg: 'SVG',
};
