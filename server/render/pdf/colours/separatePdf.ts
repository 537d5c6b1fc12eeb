import {
  PDFArray,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFRef,
} from '@cantoo/pdf-lib';
import { DeviceInks, inkName } from './deviceInks.ts';
import { type ColourTarget, PageColours, type ProcessKind, processKind } from './pageColours.ts';

const name = (text: string): PDFName => PDFName.of(text);

/**
 * Rewrites a page so that it shows one ink or spot colour alone, in grey: full ink is black, everything else knocks out white.
 * Vectors stay vectors. What is in CMYK, DeviceN or a spot colour already is taken as it stands; RGB and grey are separated by
 * full grey-component replacement, as core/estimate/ink.ts counts it. Masks stay as they are. Lab stays Lab.
 * @param page is changed; it belongs to a document of its own
 * @param part a process ink (see PROCESS_INKS) or the name of a spot colour
 */
export function separatePage(document: PDFDocument, page: PDFPage, part: string): void {
  new PageColours(document).rewrite(page, new PartTarget(document, part));
}

/** Every colour as the grey of one of its inks. */
class PartTarget implements ColourTarget {
  private readonly inks: DeviceInks;

  constructor(
    private readonly document: PDFDocument,
    part: string,
  ) {
    this.inks = new DeviceInks(document.context, part);
  }

  within(): ColourTarget {
    return this;
  }

  set(components: readonly number[], stroke: boolean): string {
    return `${this.inks.grey(components)} ${stroke ? 'G' : 'g'}`;
  }

  process(kind: ProcessKind): PDFObject {
    return this.inks.space(kind);
  }

  space(value: PDFObject): PDFObject {
    return this.spaceAt(value, 0);
  }

  picture(stream: PDFRawStream): PDFRawStream {
    const space = stream.dict.get(name('ColorSpace'));
    if (space) stream.dict.set(name('ColorSpace'), this.spaceAt(space, 0));
    return stream;
  }

  private spaceAt(value: PDFObject, depth: number): PDFObject {
    const { context } = this.document;
    const space = value instanceof PDFRef ? context.lookup(value) : value;
    if (space instanceof PDFName) {
      const kind = processKind(space.decodeText());
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
        if (space.size() > 1) out.set(1, this.spaceAt(under, depth + 1));
        return out;
      }
      default:
        return space.size() === 1 && kind instanceof PDFName ? this.spaceAt(kind, depth + 1) : value;
    }
  }
}
