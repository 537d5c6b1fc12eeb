import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  PDFRawStream,
  PDFRef,
  PDFStream,
  decodePDFRawStream,
} from '@cantoo/pdf-lib';
import { isSrgb } from '../../../../core/coats/artworkProfiles.ts';
import { UNREADABLE_PROFILE, profileName } from '../../picture/profileName.ts';

const PROCESS = new Set(['Cyan', 'Magenta', 'Yellow', 'Black', 'All', 'None']);
const DEVICE: Readonly<Record<string, string>> = {
  DeviceRGB: 'RGB',
  DeviceCMYK: 'CMYK',
  DeviceGray: 'grey',
  CalRGB: 'RGB',
  CalGray: 'grey',
  Lab: 'Lab',
};
const BY_COMPONENTS: Readonly<Record<number, string>> = { 1: 'grey', 3: 'RGB', 4: 'CMYK' };

/** Gathers the colour spaces that a PDF uses, its spot colours, and the profile that it names. */
export class ColourFinder {
  private readonly spaces = new Set<string>();
  private readonly spots = new Set<string>();
  private profile: string | null = null;
  private readonly seen = new Set<PDFObject>();

  constructor(private readonly document: PDFDocument) {
    const intents = this.document.catalog.lookup(PDFName.of('OutputIntents'));
    const first = intents instanceof PDFArray ? intents.lookup(0) : undefined;
    const profile = first instanceof PDFDict ? first.lookup(PDFName.of('DestOutputProfile')) : undefined;
    if (profile instanceof PDFRawStream) this.profile = profileOf(profile);
  }

  found(): { colourSpaces: string[]; spots: string[]; profile: string | null } {
    return { colourSpaces: [...this.spaces].sort(), spots: [...this.spots].sort(), profile: this.profile };
  }

  device(space: string): void {
    this.spaces.add(space);
  }

  named(name: string, resources: PDFDict | undefined): void {
    const device = DEVICE[name];
    if (device !== undefined) {
      this.spaces.add(device);
      return;
    }
    const spaces = resources?.lookup(PDFName.of('ColorSpace'));
    if (spaces instanceof PDFDict) this.of(spaces.get(PDFName.of(name)), 0);
  }

  /** Takes in a colour space as it stands in the file. */
  of(value: PDFObject | undefined, depth: number): void {
    const space = value instanceof PDFRef ? this.document.context.lookup(value) : value;
    if (!space || depth > 6) return;
    if (space instanceof PDFName) {
      const device = DEVICE[space.decodeText()];
      if (device !== undefined) this.spaces.add(device);
      return;
    }
    if (!(space instanceof PDFArray) || this.seen.has(space)) return;
    this.seen.add(space);
    const kind = space.lookup(0);
    switch (kind instanceof PDFName ? kind.decodeText() : '') {
      case 'ICCBased':
        this.icc(space.lookup(1));
        break;
      case 'Separation':
        this.spot(space.lookup(1));
        break;
      case 'DeviceN': {
        const names = space.lookup(1);
        if (names instanceof PDFArray)
          names.asArray().forEach((name) => {
            this.spot(name);
          });
        break;
      }
      case 'Indexed':
      case 'Pattern':
        this.of(space.get(1), depth + 1);
        break;
      default:
        this.of(kind, depth + 1);
    }
  }

  private spot(name: PDFObject | undefined): void {
    if (!(name instanceof PDFName)) return;
    const text = name.decodeText();
    if (PROCESS.has(text)) {
      if (text !== 'None' && text !== 'All') this.spaces.add('CMYK');
    } else if (text.trim() !== '' && this.spots.size < 64) this.spots.add(text);
  }

  private icc(stream: PDFObject | undefined): void {
    if (!(stream instanceof PDFStream)) return;
    const n = stream.dict.lookup(PDFName.of('N'));
    const space = BY_COMPONENTS[n instanceof PDFNumber ? n.asNumber() : 3];
    if (space !== undefined) this.spaces.add(space);
    // One that is not plain sRGB says more of the file.
    const isNamed = this.profile !== null && !isSrgb(this.profile);
    if (!isNamed && space !== 'grey' && stream instanceof PDFRawStream) this.profile = profileOf(stream);
  }
}

/** The name of a profile in a PDF; {@link UNREADABLE_PROFILE} where it can't be unpacked. */
export function profileOf(stream: PDFRawStream): string | null {
  try {
    return profileName(Buffer.from(decodePDFRawStream(stream).decode()));
  } catch {
    return UNREADABLE_PROFILE;
  }
}
