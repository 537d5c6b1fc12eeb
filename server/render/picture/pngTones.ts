import { open } from 'node:fs/promises';
import type { Sharp } from 'sharp';

/** What a PNG says of its colours stands before its pixels; a profile may be long, and ends the search. */
const HEAD_BYTES = 256 * 1024;
const SIGNATURE_BYTES = 8;
/** The gamma that screens are made for, and so far from it nobody sees a difference. */
const USUAL = 1 / 2.2;
const LIKE_USUAL = 0.02;
/** The image library can't go further. */
const MOST = 3;

/**
 * The exponent that brings the tones of a PNG to those of the screen; 1: they are so. The image library leaves the gamma of a
 * file out. Where the file also has a profile, or says that it is sRGB, that counts instead (PNG, 4.3).
 */
export async function tonesOf(path: string, format: string): Promise<number> {
  if (format !== 'png') return 1;
  const file = await open(path, 'r');
  try {
    const head = Buffer.alloc(HEAD_BYTES);
    const { bytesRead } = await file.read(head, 0, HEAD_BYTES, 0);
    return exponentIn(head.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}

function exponentIn(head: Buffer): number {
  let gamma = USUAL;
  for (let at = SIGNATURE_BYTES; at + 12 <= head.length; at += 12 + head.readUInt32BE(at)) {
    const kind = head.toString('latin1', at + 4, at + 8);
    if (kind === 'sRGB' || kind === 'iCCP' || kind === 'cICP') return 1;
    if (kind === 'gAMA') gamma = head.readUInt32BE(at + 8) / 100_000;
    if (kind === 'IDAT') break;
  }
  if (!(gamma > 0) || Math.abs(gamma - USUAL) < LIKE_USUAL) return 1;
  return Math.min(MOST, Math.max(1 / MOST, USUAL / gamma));
}

/** A picture with its tones brought to those of the screen; what shows through stays as it is. */
export function toned(picture: Sharp, exponent: number): Sharp {
  if (exponent === 1) return picture;
  return exponent > 1 ? picture.gamma(exponent, 1) : picture.gamma(1, 1 / exponent);
}
