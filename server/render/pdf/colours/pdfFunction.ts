import {
  PDFArray,
  PDFBool,
  type PDFContext,
  PDFDict,
  PDFName,
  PDFNumber,
  type PDFObject,
  PDFRawStream,
} from '@cantoo/pdf-lib';
import { Unreadable } from '../../facts.ts';
import { streamBytes } from '../pdfContents.ts';
import { type Procedure, parseProcedure, runProcedure } from './calculator.ts';

/** Numbers to numbers, as a PDF describes it: tints to colours. */
export type PdfFunction = (inputs: readonly number[]) => number[];

const DEEPEST = 6;
const MOST_SAMPLES = 4_000_000;

/**
 * Reads a function of a PDF. Source: ISO 32000-1, 7.10.
 * @throws Unreadable where it is none of the four kinds, or damaged
 */
export function pdfFunction(value: PDFObject | undefined, context: PDFContext, depth = 0): PdfFunction {
  const object = context.lookup(value);
  const dict = object instanceof PDFRawStream ? object.dict : object;
  if (!(dict instanceof PDFDict) || depth > DEEPEST) throw damaged();
  const domain = numbersOf(dict, 'Domain');
  const range = numbersOf(dict, 'Range');
  if (domain.length < 2) throw damaged();
  const plain = kindOf(dict, object, context, depth);
  return (inputs) => held(plain(held(inputs, domain)), range);
}

function kindOf(dict: PDFDict, object: PDFObject | undefined, context: PDFContext, depth: number): PdfFunction {
  const kind = dict.lookup(PDFName.of('FunctionType'));
  const stream = object instanceof PDFRawStream ? object : undefined;
  switch (kind instanceof PDFNumber ? kind.asNumber() : -1) {
    case 0:
      if (stream) return sampled(stream);
      break;
    case 2:
      return exponential(dict);
    case 3:
      return stitched(dict, context, depth);
    case 4:
      if (stream) {
        const procedure: Procedure = parseProcedure(Buffer.from(streamBytes(stream)).toString('latin1'));
        const outputs = numbersOf(dict, 'Range').length / 2;
        return (inputs) => runProcedure(procedure, inputs).slice(-outputs);
      }
      break;
  }
  throw damaged();
}

function exponential(dict: PDFDict): PdfFunction {
  const from = numbersOf(dict, 'C0', [0]);
  const to = numbersOf(dict, 'C1', [1]);
  const power = numberOf(dict, 'N', 1);
  return ([x = 0]) => from.map((start, i) => start + x ** power * ((to[i] ?? start) - start));
}

function stitched(dict: PDFDict, context: PDFContext, depth: number): PdfFunction {
  const list = dict.lookup(PDFName.of('Functions'));
  if (!(list instanceof PDFArray) || list.size() === 0) throw damaged();
  const parts = list.asArray().map((each) => pdfFunction(each, context, depth + 1));
  const [least = 0, most = 1] = numbersOf(dict, 'Domain');
  const edges = [least, ...numbersOf(dict, 'Bounds'), most];
  const encode = numbersOf(dict, 'Encode');
  return ([x = 0]) => {
    let which = 0;
    while (which < parts.length - 1 && x >= (edges[which + 1] ?? most)) which += 1;
    const [from = least, to = most] = [edges[which], edges[which + 1]];
    const [e0 = 0, e1 = 1] = [encode[which * 2], encode[which * 2 + 1]];
    const share = to === from ? 0 : (x - from) / (to - from);
    return parts[which]?.([e0 + share * (e1 - e0)]) ?? [];
  };
}

/** A table, read by interpolation along all its axes. */
function sampled(stream: PDFRawStream): PdfFunction {
  const { dict } = stream;
  const domain = numbersOf(dict, 'Domain');
  const range = numbersOf(dict, 'Range');
  const sizes = numbersOf(dict, 'Size');
  const bits = numberOf(dict, 'BitsPerSample', 8);
  const outputs = range.length / 2;
  const inputs = domain.length / 2;
  const count = sizes.reduce((product, size) => product * size, outputs);
  if (sizes.length !== inputs || outputs < 1 || !(count >= 1) || count > MOST_SAMPLES) throw damaged();
  const values = samplesOf(streamBytes(stream), bits, count);
  const encode = numbersOf(
    dict,
    'Encode',
    sizes.flatMap((size) => [0, size - 1]),
  );
  const decode = numbersOf(dict, 'Decode', range);
  const full = 2 ** bits - 1;
  return (x) => {
    const places = sizes.map((size, axis) => {
      const [d0 = 0, d1 = 1] = [domain[axis * 2], domain[axis * 2 + 1]];
      const [e0 = 0, e1 = size - 1] = [encode[axis * 2], encode[axis * 2 + 1]];
      const share = d1 === d0 ? 0 : ((x[axis] ?? 0) - d0) / (d1 - d0);
      return Math.min(size - 1, Math.max(0, e0 + share * (e1 - e0)));
    });
    const sums = new Array<number>(outputs).fill(0);
    for (let corner = 0; corner < 1 << inputs; corner += 1) {
      let weight = 1;
      let at = 0;
      let stride = 1;
      places.forEach((place, axis) => {
        const low = Math.min(Math.floor(place), Math.max(0, (sizes[axis] ?? 1) - 2));
        const isHigh = ((corner >> axis) & 1) === 1;
        weight *= isHigh ? place - low : 1 - (place - low);
        at += Math.min(low + (isHigh ? 1 : 0), (sizes[axis] ?? 1) - 1) * stride;
        stride *= sizes[axis] ?? 1;
      });
      if (weight === 0) continue;
      for (let out = 0; out < outputs; out += 1) {
        sums[out] = (sums[out] ?? 0) + weight * (values[at * outputs + out] ?? 0);
      }
    }
    return sums.map((sum, out) => {
      const [from = 0, to = 1] = [decode[out * 2], decode[out * 2 + 1]];
      return from + (sum / full) * (to - from);
    });
  };
}

/** Whole numbers of so many bits, one behind the other, the highest bit first. */
export function samplesOf(bytes: Uint8Array, bits: number, count: number): Float64Array {
  if (![1, 2, 4, 8, 12, 16, 24, 32].includes(bits) || bytes.length * 8 < count * bits) throw damaged();
  const values = new Float64Array(count);
  for (let i = 0; i < count; i += 1) {
    let value = 0;
    for (let at = i * bits, left = bits; left > 0;) {
      const free = 8 - (at % 8);
      const taken = Math.min(free, left);
      const part = ((bytes[at >> 3] ?? 0) >> (free - taken)) & (2 ** taken - 1);
      value = value * 2 ** taken + part;
      at += taken;
      left -= taken;
    }
    values[i] = value;
  }
  return values;
}

/** Each number within its pair of least and most; where there are no pairs, as it is. */
function held(values: readonly number[], pairs: readonly number[]): number[] {
  const count = pairs.length > 0 ? pairs.length / 2 : values.length;
  return Array.from({ length: count }, (_, i) => {
    const value = values[i] ?? 0;
    return Math.min(pairs[i * 2 + 1] ?? Infinity, Math.max(pairs[i * 2] ?? -Infinity, value));
  });
}

export function numbersOf(dict: PDFDict, key: string, otherwise: readonly number[] = []): number[] {
  const list = dict.lookup(PDFName.of(key));
  if (!(list instanceof PDFArray)) return [...otherwise];
  return list.asArray().map((_, i) => {
    const each = list.lookup(i);
    return each instanceof PDFNumber ? each.asNumber() : each === PDFBool.True ? 1 : 0;
  });
}

export function numberOf(dict: PDFDict, key: string, otherwise: number): number {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFNumber ? value.asNumber() : otherwise;
}

function damaged(): Unreadable {
  return new Unreadable('A colour of the artwork is described by a damaged function.');
}
