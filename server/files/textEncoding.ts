/** So much of a file is looked at to tell how its letters are written. */
const LOOKED_AT = 4096;

/** The encoding of a text without other word of it: UTF-8 unless it is not. Spreadsheets write UTF-16, and Windows-1252 where they are old. */
export function textEncoding(bytes: Uint8Array): 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  // Without a mark in front, every other byte of Western text is zero.
  const head = bytes.subarray(0, LOOKED_AT);
  const zeros = (from: 0 | 1): number => head.filter((byte, i) => i % 2 === from && byte === 0).length;
  if (zeros(1) > head.length / 4) return 'utf-16le';
  if (zeros(0) > head.length / 4) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}
