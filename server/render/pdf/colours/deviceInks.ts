import { type PDFArray, type PDFContext, PDFName, type PDFObject } from '@cantoo/pdf-lib';
import { PROCESS_INKS } from '../../../../core/ticket/parts.ts';
import type { ProcessKind } from './pageColours.ts';

const COMPONENTS: Readonly<Record<ProcessKind, number>> = { grey: 1, RGB: 3, CMYK: 4 };

/** The name of an ink as a PDF writes it; process inks as this program calls them. */
export function inkName(value: PDFObject | undefined): string {
  const written = value instanceof PDFName ? value.decodeText() : '';
  return PROCESS_INKS.find((ink) => ink === written.toLowerCase()) ?? written;
}

/**
 * Colour spaces that take the components of a process space or of named inks and show one ink of them as grey.
 * Each is a DeviceN space whose function keeps what is wanted: 1 is paper, 0 is full ink.
 */
export class DeviceInks {
  private readonly spaces = new Map<string, PDFArray>();

  constructor(
    private readonly context: PDFContext,
    private readonly part: string,
  ) {}

  space(kind: ProcessKind): PDFArray {
    const inks = Array.from({ length: COMPONENTS[kind] }, (_, i) => `${kind}${String(i)}`);
    return this.known(kind, inks, this.process(kind));
  }

  /** The space of a Separation or DeviceN: the part's own component, or paper. */
  named(inks: readonly string[]): PDFArray {
    const index = inks.findIndex((ink) => ink === this.part || ink === 'All');
    const names = inks.map((_, i) => `Ink${String(i)}`);
    return this.known(`${String(inks.length)}/${String(index)}`, names, only(names.length, index));
  }

  /** Grey of a colour that is set in a process space: one, three or four components (0…1). */
  grey(components: readonly number[]): string {
    const index = this.index();
    if (index < 0) return '1';
    const [a = 0, b = 0, c = 0] = components;
    if (components.length >= 4) return short(1 - (components[index] ?? 0));
    if (components.length < 3) return index === 3 ? short(a) : '1';
    const light = Math.max(a, b, c);
    return short(index === 3 ? light : 1 - (light - ([a, b, c][index] ?? 0)));
  }

  private index(): number {
    return PROCESS_INKS.findIndex((ink) => ink === this.part);
  }

  /** A PostScript calculator that does what `grey` does. */
  private process(kind: ProcessKind): string {
    const index = this.index();
    const paper = `{${'pop '.repeat(COMPONENTS[kind])}1}`;
    if (index < 0) return paper;
    if (kind === 'CMYK') return only(4, index);
    if (kind === 'grey') return index === 3 ? '{}' : paper;
    const lightest = '2 copy lt {exch} if pop 2 copy lt {exch} if pop';
    return index === 3 ? `{${lightest}}` : `{${String(2 - index)} index 4 1 roll ${lightest} exch sub 1 exch sub}`;
  }

  private known(key: string, names: readonly string[], code: string): PDFArray {
    const known = this.spaces.get(key);
    if (known) return known;
    const ranges = names.flatMap(() => [0, 1]);
    const tint = this.context.register(this.context.stream(code, { FunctionType: 4, Domain: ranges, Range: [0, 1] }));
    const space = this.context.obj(['DeviceN', [...names], 'DeviceGray']);
    space.push(tint);
    this.spaces.set(key, space);
    return space;
  }
}

/** Keeps one of n components, as light; none: paper. The first component lies deepest on the stack. */
function only(n: number, index: number): string {
  const rest = 'pop '.repeat(n);
  return index < 0 ? `{${rest}1}` : `{${String(n - 1 - index)} index ${String(n + 1)} 1 roll ${rest}1 exch sub}`;
}

function short(value: number): string {
  return Number(Math.min(1, Math.max(0, value)).toFixed(5)).toString();
}
