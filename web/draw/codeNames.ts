import type { CodeKind } from '../../core/layout/marks/markSettings.ts';

/** What people call the kinds of codes. */
export const CODE_NAMES: Readonly<Record<CodeKind, string>> = { code39: 'Code 39', code128: 'Code 128', qr: 'QR code' };
