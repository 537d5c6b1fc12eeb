import {
  type PDFContext,
  PDFDict,
  type PDFDocument,
  PDFName,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFRef,
} from '@cantoo/pdf-lib';
import { Unreadable } from '../../facts.ts';
import { decodedContents, streamBytes } from '../pdfContents.ts';
import { type Operand, walkContent } from '../pdfTokens.ts';

/** Colours that need no entry among the resources. */
export type ProcessKind = 'grey' | 'RGB' | 'CMYK';
export const PROCESS_KINDS: readonly ProcessKind[] = ['grey', 'RGB', 'CMYK'];

const NAMES: Readonly<Record<string, ProcessKind>> = {
  DeviceGray: 'grey',
  DeviceRGB: 'RGB',
  DeviceCMYK: 'CMYK',
  G: 'grey',
  RGB: 'RGB',
  CMYK: 'CMYK',
};

/** What colours become. */
export interface ColourTarget {
  /** Operators in place of one that sets a process colour. @param components 0 … 1: one, three or four of them */
  readonly set: (components: readonly number[], stroke: boolean) => string;
  /** What stands for a process space among the resources. */
  readonly process: (kind: ProcessKind) => PDFObject;
  /** What stands for any other space. */
  readonly space: (value: PDFObject) => PDFObject;
  /** What stands for a picture. @param stream with a dictionary of its own, which may be changed */
  readonly picture: (stream: PDFRawStream, ref: PDFRef | null) => PDFRawStream;
  /** As it is within what has these resources. */
  readonly within: (resources: PDFDict | undefined) => ColourTarget;
}

const DEEPEST = 12;
/** Of what pages unpack to, all together, where nothing else is said (bytes). */
const MOST_BYTES = 256 * 1024 * 1024;
const name = (text: string): PDFName => PDFName.of(text);

export function processKind(space: string): ProcessKind | null {
  return NAMES[space] ?? null;
}

/** Rewrites colours, pictures and forms of pages. What was rewritten once is used again. Masks stay as they are. */
export class PageColours {
  /** What has been rewritten, by the object that it was. */
  private readonly made = new Map<PDFObject, PDFObject>();
  private readonly context: PDFContext;
  private bytesLeft: number;

  /** @param mostBytes that all its pages may unpack to; one after the other is held */
  constructor(document: PDFDocument, mostBytes = MOST_BYTES) {
    this.context = document.context;
    this.bytesLeft = mostBytes;
  }

  /** @param page is changed; so is what it shares with other pages */
  rewrite(page: PDFPage, target: ColourTarget): void {
    const own = page.node.Resources();
    const inner = target.within(own);
    const resources = this.resources(own, 0, inner);
    // Black is what a page begins with.
    const start = `${inner.set([0], false)} ${inner.set([0], true)}\n`;
    const content = joined([
      latin1Bytes(start),
      this.content(this.within(decodedContents(page, this.bytesLeft)), inner),
    ]);
    page.node.set(name('Resources'), resources);
    page.node.set(name('Contents'), this.context.register(this.context.flateStream(content)));
  }

  private within(bytes: Uint8Array): Uint8Array {
    this.bytesLeft -= bytes.length;
    if (this.bytesLeft < 0)
      throw new Unreadable('its pages draw too much for their colours to be rewritten. Lay them out in several runs');
    return bytes;
  }

  /** A copy of the resources in which every colour is the target's. */
  private resources(own: PDFDict | undefined, depth: number, target: ColourTarget): PDFDict {
    const { context } = this;
    const out = own ? own.clone(context) : context.obj({});
    const each = (key: string, change: (value: PDFObject) => PDFObject): void => {
      const dict = own?.lookup(name(key));
      if (!(dict instanceof PDFDict)) return;
      const copy = dict.clone(context);
      for (const [entry, value] of dict.entries()) copy.set(entry, change(value));
      out.set(name(key), copy);
    };
    each('ColorSpace', (value) => this.space(value, target));
    each('Shading', (value) => this.once(value, (object) => this.shading(object, target)));
    each('Pattern', (value) => this.once(value, (object) => this.pattern(object, own, depth, target)));
    each('XObject', (value) => this.once(value, (object) => this.xObject(object, value, own, depth, target)));
    const spaces = out.lookup(name('ColorSpace'));
    const named = spaces instanceof PDFDict ? spaces : context.obj({});
    for (const kind of PROCESS_KINDS) named.set(name(nameOf(kind)), target.process(kind));
    // They have been minded; what stands here now must not be changed once more.
    for (const key of ['DefaultGray', 'DefaultRGB', 'DefaultCMYK']) named.delete(name(key));
    out.set(name('ColorSpace'), named);
    return out;
  }

  /** Each shared object is rewritten once, in its place, so that nothing of what it was is kept. */
  private once(value: PDFObject, change: (object: PDFObject) => PDFObject): PDFObject {
    const known = this.made.get(value);
    if (known) return known;
    // One that contains itself meets what it will be.
    this.made.set(value, value);
    const object = value instanceof PDFRef ? this.context.lookup(value) : value;
    if (!object) return value;
    const changed = change(object);
    if (value instanceof PDFRef) {
      this.context.assign(value, changed);
      return value;
    }
    const made = changed instanceof PDFRawStream ? this.context.register(changed) : changed;
    this.made.set(value, made);
    return made;
  }

  private space(value: PDFObject, target: ColourTarget): PDFObject {
    const space = value instanceof PDFRef ? this.context.lookup(value) : value;
    if (space instanceof PDFName) {
      const kind = processKind(space.decodeText());
      return kind ? target.process(kind) : space;
    }
    return space ? target.space(space) : value;
  }

  /** The colour space of a dictionary, changed in a copy. */
  private withSpace(dict: PDFDict, target: ColourTarget): PDFDict {
    const copy = dict.clone(this.context);
    const space = dict.get(name('ColorSpace'));
    if (space) copy.set(name('ColorSpace'), this.space(space, target));
    return copy;
  }

  private shading(object: PDFObject, target: ColourTarget): PDFObject {
    if (object instanceof PDFRawStream) return PDFRawStream.of(this.withSpace(object.dict, target), object.contents);
    return object instanceof PDFDict ? this.withSpace(object, target) : object;
  }

  private pattern(object: PDFObject, outer: PDFDict | undefined, depth: number, target: ColourTarget): PDFObject {
    if (object instanceof PDFRawStream) return this.form(object, outer, depth, target);
    if (!(object instanceof PDFDict)) return object;
    const copy = object.clone(this.context);
    const shading = object.get(name('Shading'));
    if (shading)
      copy.set(
        name('Shading'),
        this.once(shading, (each) => this.shading(each, target)),
      );
    return copy;
  }

  private xObject(
    object: PDFObject,
    value: PDFObject,
    outer: PDFDict | undefined,
    depth: number,
    target: ColourTarget,
  ): PDFObject {
    if (!(object instanceof PDFRawStream)) return object;
    if (object.dict.get(name('Subtype')) !== name('Image')) return this.form(object, outer, depth, target);
    const copy = PDFRawStream.of(object.dict.clone(this.context), object.contents);
    return target.picture(copy, value instanceof PDFRef ? value : null);
  }

  /** A form or a tile of a pattern: its own content, and its own or its owner's resources. */
  private form(stream: PDFRawStream, outer: PDFDict | undefined, depth: number, target: ColourTarget): PDFObject {
    if (depth >= DEEPEST) return stream;
    const { context } = this;
    const own = stream.dict.lookup(name('Resources'));
    const used = own instanceof PDFDict ? own : outer;
    const inner = target.within(used);
    const resources = this.resources(used, depth + 1, inner);
    const out = context.flateStream(this.content(this.within(streamBytes(stream)), inner));
    for (const [key, value] of stream.dict.entries()) {
      if (!['Length', 'Filter', 'DecodeParms', 'Resources', 'Group'].some((each) => key === name(each)))
        out.dict.set(key, value);
    }
    const group = stream.dict.lookup(name('Group'));
    if (group instanceof PDFDict) {
      const copy = group.clone(context);
      copy.delete(name('CS'));
      out.dict.set(name('Group'), copy);
    }
    out.dict.set(name('Resources'), resources);
    return out;
  }

  /** A content stream in which every colour is set as the target's. */
  private content(bytes: Uint8Array, target: ColourTarget): Uint8Array {
    const out: Uint8Array[] = [];
    let kept = 0;
    walkContent(bytes, (operator, operands, from, to) => {
      const instead = insteadOf(operator, operands, target, () => latin1(bytes.subarray(from, to)));
      if (instead === null) return;
      out.push(bytes.subarray(kept, from), latin1Bytes(instead));
      kept = to;
    });
    out.push(bytes.subarray(kept));
    return joined(out);
  }
}

function insteadOf(
  operator: string,
  operands: readonly Operand[],
  target: ColourTarget,
  whole: () => string,
): string | null {
  const numbers = operands.filter((each) => typeof each === 'number');
  switch (operator) {
    case 'g':
    case 'rg':
    case 'k':
      return target.set(numbers, false);
    case 'G':
    case 'RG':
    case 'K':
      return target.set(numbers, true);
    case 'cs':
    case 'CS': {
      const named = operands.find((each) => typeof each === 'string');
      const kind = typeof named === 'string' ? processKind(named.slice(1)) : null;
      // The first colour of a process space is black; of what stands for it, full ink.
      return kind ? `/${nameOf(kind)} ${operator} ${BLACK[kind]} ${operator === 'cs' ? 'sc' : 'SC'}` : null;
    }
    case 'ID':
      return whole().replace(/\/(CS|ColorSpace)\s*\/(\w+)/, (all, key: string, space: string) => {
        const kind = processKind(space);
        return kind ? `/${key} /${nameOf(kind)}` : all;
      });
    default:
      return null;
  }
}

/** Components of black in a process space. */
const BLACK: Readonly<Record<ProcessKind, string>> = { grey: '0', RGB: '0 0 0', CMYK: '0 0 0 1' };

/** Under which name a page has what stands for a process space. */
function nameOf(kind: ProcessKind): string {
  return `Part${kind}`;
}

function latin1Bytes(value: string): Uint8Array {
  return Buffer.from(value, 'latin1');
}

function latin1(bytes: Uint8Array): string {
  return Buffer.from(bytes).toString('latin1');
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  return Buffer.concat(parts);
}
