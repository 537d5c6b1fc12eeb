/** What a content stream is made of: operands and the operator that takes them. Strings are left out; nobody needs them here. */
export type Operand = number | string;

const SPACE = new Set([0, 9, 10, 12, 13, 32]);
const DELIMITER = new Set([40, 41, 60, 62, 91, 93, 123, 125, 47, 37]);

/**
 * Walks through a content stream and calls `take` for each operator with its operands: numbers, and names with their slash.
 * Text, dictionaries and the data of inline pictures are stepped over; `from` and `to` are the bytes from the first operand
 * to the end of the operator. An inline picture is taken twice: as `BI`, then as `ID` with what describes it.
 */
export function walkContent(
  bytes: Uint8Array,
  take: (operator: string, operands: readonly Operand[], from: number, to: number) => void,
): void {
  const operands: Operand[] = [];
  const end = bytes.length;
  let at = 0;
  let from = -1;
  while (at < end) {
    const byte = bytes[at] ?? 0;
    if (SPACE.has(byte)) {
      at += 1;
      continue;
    }
    if (byte === 37) {
      at = lineEnd(bytes, at);
      continue;
    }
    if (from < 0) from = at;
    if (byte === 40) at = stringEnd(bytes, at);
    else if (byte === 60 || byte === 62)
      at = bytes[at + 1] === byte ? at + 2 : byte === 60 ? after(bytes, at, 62) : at + 1;
    else if (byte === 47) {
      const stop = wordEnd(bytes, at + 1);
      operands.push(text(bytes, at, stop));
      at = stop;
    } else if (DELIMITER.has(byte)) at += 1;
    else {
      const stop = wordEnd(bytes, at);
      const word = text(bytes, at, stop);
      at = stop;
      const first = word.charCodeAt(0);
      if ((first >= 48 && first <= 57) || first === 45 || first === 43 || first === 46)
        operands.push(Number.parseFloat(word));
      else if (word !== 'true' && word !== 'false' && word !== 'null') {
        take(word, operands, from, at);
        operands.length = 0;
        from = -1;
        if (word === 'ID') at = inlineEnd(bytes, at);
      }
    }
    // A hostile stream of operands only must not fill the memory.
    if (operands.length > 2048) operands.length = 0;
  }
}

function text(bytes: Uint8Array, from: number, to: number): string {
  let out = '';
  for (let i = from; i < to && i < from + 200; i++) out += String.fromCharCode(bytes[i] ?? 0);
  return out;
}

function wordEnd(bytes: Uint8Array, from: number): number {
  let at = from;
  while (at < bytes.length && !SPACE.has(bytes[at] ?? 0) && !DELIMITER.has(bytes[at] ?? 0)) at += 1;
  return at;
}

function lineEnd(bytes: Uint8Array, from: number): number {
  let at = from;
  while (at < bytes.length && bytes[at] !== 10 && bytes[at] !== 13) at += 1;
  return at;
}

function after(bytes: Uint8Array, from: number, byte: number): number {
  const found = bytes.indexOf(byte, from);
  return found < 0 ? bytes.length : found + 1;
}

function stringEnd(bytes: Uint8Array, from: number): number {
  let depth = 0;
  for (let at = from; at < bytes.length; at++) {
    const byte = bytes[at];
    if (byte === 92) at += 1;
    else if (byte === 40) depth += 1;
    else if (byte === 41) {
      depth -= 1;
      if (depth === 0) return at + 1;
    }
  }
  return bytes.length;
}

/** The data of an inline picture end with EI between white space. */
function inlineEnd(bytes: Uint8Array, from: number): number {
  for (let at = bytes.indexOf(69, from); at >= 0; at = bytes.indexOf(69, at + 1)) {
    if (
      bytes[at + 1] === 73 &&
      SPACE.has(bytes[at - 1] ?? 0) &&
      (at + 2 >= bytes.length || SPACE.has(bytes[at + 2] ?? 0))
    ) {
      return at + 2;
    }
  }
  return bytes.length;
}
