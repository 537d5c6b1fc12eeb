import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFRef,
} from '@cantoo/pdf-lib';
import { DeviceInks, inkName } from './deviceInks.ts';
import { decodedContents, streamBytes } from '../pdfContents.ts';
import { type Operand, walkContent } from '../pdfTokens.ts';

const DEEPEST = 12;
/** A page that unpacks to more than this can't be taken apart (bytes). */
const MOST_BYTES = 256 * 1024 * 1024;
const name = (text: string): PDFName => PDFName.of(text);

/**
 * Rewrites a page so that it shows one ink or spot colour alone, in grey: full ink is black, everything else knocks out white.
 * Vectors stay vectors. What is in CMYK, DeviceN or a spot colour already is taken as it stands; RGB and grey are separated by
 * full grey-component replacement, as core/estimate/ink.ts counts it. Masks stay as they are. Lab stays Lab.
 * @param page is changed; it belongs to a document of its own
 * @param part a process ink (see PROCESS_INKS) or the name of a spot colour
 */
export function separatePage(document: PDFDocument, page: PDFPage, part: string): void {
  const work = new Separator(document, part);
  const resources = work.resources(page.node.Resources(), 0);
  const start = part === 'black' ? '' : '1 g 1 G\n';
  const content = work.content(joined([text(start), work.page(page)]));
  page.node.set(name('Resources'), resources);
  page.node.set(name('Contents'), document.context.register(document.context.flateStream(content)));
}

/** Rewrites colours, pictures and forms of one page. What was rewritten once is used again. */
class Separator {
  private readonly inks: DeviceInks;
  /** What has been rewritten, by the object that it was. */
  private readonly made = new Map<PDFObject, PDFObject>();
  private bytesLeft = MOST_BYTES;

  constructor(
    private readonly document: PDFDocument,
    private readonly part: string,
  ) {
    this.inks = new DeviceInks(document.context, part);
  }

  page(page: PDFPage): Uint8Array {
    return this.within(decodedContents(page, this.bytesLeft));
  }

  private within(bytes: Uint8Array): Uint8Array {
    this.bytesLeft -= bytes.length;
    if (this.bytesLeft < 0) throw new Error('The page is too large to be taken apart into its inks.');
    return bytes;
  }

  /** A copy of the resources in which every colour is the part's. */
  resources(own: PDFDict | undefined, depth: number): PDFDict {
    const { context } = this.document;
    const out = own ? own.clone(context) : context.obj({});
    const each = (key: string, change: (value: PDFObject) => PDFObject): void => {
      const dict = own?.lookup(name(key));
      if (!(dict instanceof PDFDict)) return;
      const copy = dict.clone(context);
      for (const [entry, value] of dict.entries()) copy.set(entry, change(value));
      out.set(name(key), copy);
    };
    each('ColorSpace', (value) => this.space(value, 0));
    each('Shading', (value) => this.once(value, (object) => this.shading(object)));
    each('Pattern', (value) => this.once(value, (object) => this.pattern(object, own, depth)));
    each('XObject', (value) => this.once(value, (object) => this.xObject(object, own, depth)));
    const spaces = out.lookup(name('ColorSpace'));
    const named = spaces instanceof PDFDict ? spaces : context.obj({});
    for (const kind of ['grey', 'RGB', 'CMYK'] as const) named.set(name(this.inks.nameOf(kind)), this.inks.space(kind));
    out.set(name('ColorSpace'), named);
    return out;
  }

  /** Each shared object is rewritten once; an object that contains itself meets its old form. */
  private once(value: PDFObject, change: (object: PDFObject) => PDFObject): PDFObject {
    const known = this.made.get(value);
    if (known) return known;
    this.made.set(value, value);
    const object = value instanceof PDFRef ? this.document.context.lookup(value) : value;
    const changed = object ? change(object) : value;
    const made = changed instanceof PDFRawStream ? this.document.context.register(changed) : changed;
    this.made.set(value, made);
    return made;
  }

  space(value: PDFObject, depth: number): PDFObject {
    const { context } = this.document;
    const space = value instanceof PDFRef ? context.lookup(value) : value;
    if (space instanceof PDFName) {
      const kind = this.inks.kindOf(space.decodeText());
      return kind ? this.inks.space(kind) : space;
    }
    if (!(space instanceof PDFArray) || depth > 4) return value;
    const kind = space.lookup(0);
    switch (kind instanceof PDFName ? kind.decodeText() : '') {
      case 'CalGray':
        return this.inks.space('grey');
      case 'CalRGB':
        return this.inks.space('RGB');
      case 'ICCBased': {
        const profile = space.lookup(1);
        const n = profile instanceof PDFRawStream ? profile.dict.lookup(name('N')) : undefined;
        const channels = n instanceof PDFNumber ? n.asNumber() : 3;
        return this.inks.space(channels === 1 ? 'grey' : channels === 4 ? 'CMYK' : 'RGB');
      }
      case 'Separation':
        return this.inks.named([inkName(space.lookup(1))]);
      case 'DeviceN': {
        const names = space.lookup(1);
        return this.inks.named(names instanceof PDFArray ? names.asArray().map(inkName) : []);
      }
      case 'Indexed':
      case 'Pattern': {
        const under = space.get(1);
        const out = space.clone(context);
        if (space.size() > 1) out.set(1, this.space(under, depth + 1));
        return out;
      }
      default:
        return space.size() === 1 && kind instanceof PDFName ? this.space(kind, depth + 1) : value;
    }
  }

  /** The colour space of a dictionary, changed in a copy. */
  private withSpace(dict: PDFDict): PDFDict {
    const copy = dict.clone(this.document.context);
    const space = dict.get(name('ColorSpace'));
    if (space) copy.set(name('ColorSpace'), this.space(space, 0));
    return copy;
  }

  private shading(object: PDFObject): PDFObject {
    if (object instanceof PDFRawStream) return PDFRawStream.of(this.withSpace(object.dict), object.contents);
    return object instanceof PDFDict ? this.withSpace(object) : object;
  }

  private pattern(object: PDFObject, outer: PDFDict | undefined, depth: number): PDFObject {
    if (object instanceof PDFRawStream) return this.form(object, outer, depth);
    if (!(object instanceof PDFDict)) return object;
    const copy = object.clone(this.document.context);
    const shading = object.get(name('Shading'));
    if (shading)
      copy.set(
        name('Shading'),
        this.once(shading, (each) => this.shading(each)),
      );
    return copy;
  }

  private xObject(object: PDFObject, outer: PDFDict | undefined, depth: number): PDFObject {
    if (!(object instanceof PDFRawStream)) return object;
    if (object.dict.get(name('Subtype')) !== name('Image')) return this.form(object, outer, depth);
    return PDFRawStream.of(this.withSpace(object.dict), object.contents);
  }

  /** A form or a tile of a pattern: its own content, and its own or its owner's resources. */
  private form(stream: PDFRawStream, outer: PDFDict | undefined, depth: number): PDFObject {
    if (depth >= DEEPEST) return stream;
    const { context } = this.document;
    const own = stream.dict.lookup(name('Resources'));
    const resources = this.resources(own instanceof PDFDict ? own : outer, depth + 1);
    const out = context.flateStream(this.content(this.within(streamBytes(stream))));
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

  /** A content stream in which every colour is set as the part's grey. */
  content(bytes: Uint8Array): Uint8Array {
    const out: Uint8Array[] = [];
    let kept = 0;
    walkContent(bytes, (operator, operands, from, to) => {
      const instead = this.instead(operator, operands, () => latin1(bytes.subarray(from, to)));
      if (instead === null) return;
      out.push(bytes.subarray(kept, from), text(instead));
      kept = to;
    });
    out.push(bytes.subarray(kept));
    return joined(out);
  }

  private instead(operator: string, operands: readonly Operand[], whole: () => string): string | null {
    const numbers = operands.filter((each) => typeof each === 'number');
    switch (operator) {
      case 'g':
      case 'rg':
      case 'k':
        return `${this.inks.grey(numbers)} g`;
      case 'G':
      case 'RG':
      case 'K':
        return `${this.inks.grey(numbers)} G`;
      case 'cs':
      case 'CS': {
        const named = operands.find((each) => typeof each === 'string');
        const kind = typeof named === 'string' ? this.inks.kindOf(named.slice(1)) : null;
        // The first colour of a process space is black; of what stands for it, full ink.
        return kind
          ? `/${this.inks.nameOf(kind)} ${operator} ${this.inks.black(kind)} ${operator === 'cs' ? 'sc' : 'SC'}`
          : null;
      }
      case 'ID':
        return whole().replace(/\/(CS|ColorSpace)\s*\/(\w+)/, (all, key: string, space: string) => {
          const kind = this.inks.kindOf(space);
          return kind ? `/${key} /${this.inks.nameOf(kind)}` : all;
        });
      default:
        return null;
    }
  }
}

function text(value: string): Uint8Array {
  return Buffer.from(value, 'latin1');
}

function latin1(bytes: Uint8Array): string {
  return Buffer.from(bytes).toString('latin1');
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  return Buffer.concat(parts);
}
