import {
  PDFArray,
  type PDFContext,
  PDFDict,
  PDFHexString,
  PDFName,
  type PDFObject,
  type PDFRawStream,
  type PDFRef,
} from '@cantoo/pdf-lib';
import type { ArtworkColours } from '../../colour/artworkColours.ts';
import { type ArtSpace, artSpace, type ProcessSpaces } from './artSpace.ts';
import { packingOf } from './imageSamples.ts';
import type { ColourTarget, ProcessKind } from './pageColours.ts';
import { numbersOf, numberOf } from './pdfFunction.ts';

/** A picture whose samples are to become wide RGB once the pages are rewritten: that takes longer than colours of lines do. */
export interface OwedPicture {
  readonly ref: PDFRef;
  readonly space: ArtSpace;
}

const FULL = 65_535;
const name = (text: string): PDFName => PDFName.of(text);

/** By what a page says what its process colours are. */
const DEFAULTS = ['DefaultGray', 'DefaultRGB', 'DefaultCMYK'] as const;

/** What is made once for all pages. */
interface Shared {
  readonly tables: Map<ArtSpace, PDFArray>;
  /** By what pages say of their process colours. */
  readonly targets: Map<string, WideTarget>;
  readonly owed: OwedPicture[];
}

/** Nodes along each axis of a table in a PDF, by how many components it takes; more have none. */
const NODES: Readonly<Record<number, number>> = { 1: 256, 2: 65, 3: 33, 4: 17, 5: 9, 6: 6, 7: 5, 8: 4 };

/**
 * Every colour in the wide RGB. Lines and areas at once; what is named by a space becomes a table; pictures of three or four components are
 * owed (see {@link OwedPicture}), and so stay fast to draw.
 */
export class WideTarget implements ColourTarget {
  constructor(
    private readonly context: PDFContext,
    private readonly colours: ArtworkColours,
    private readonly spaces: ProcessSpaces,
    private readonly shared: Shared = { tables: new Map(), targets: new Map(), owed: [] },
    /** What pages around it say. */
    private readonly around = '',
  ) {}

  /** Pictures of all pages that are to be changed. */
  get owed(): readonly OwedPicture[] {
    return this.shared.owed;
  }

  /** A page may say itself what its process colours are. */
  within(resources: PDFDict | undefined): ColourTarget {
    const named = resources?.lookup(name('ColorSpace'));
    if (!(named instanceof PDFDict) || !this.colours.usesEmbedded) return this;
    const here = DEFAULTS.map((key) => named.get(name(key))?.toString() ?? '').join(' ');
    if (here.trim() === '') return this;
    const said = `${this.around}|${here}`;
    const known = this.shared.targets.get(said);
    if (known) return known;
    const own = (key: string, components: number): ArtSpace | null => {
      const value = named.get(name(key));
      const space = value ? this.read(value) : null;
      return space?.components === components ? space : null;
    };
    const [grey, RGB, CMYK] = [own('DefaultGray', 1), own('DefaultRGB', 3), own('DefaultCMYK', 4)];
    const { context, colours, spaces, shared } = this;
    const meant = { grey: grey ?? spaces.grey, RGB: RGB ?? spaces.RGB, CMYK: CMYK ?? spaces.CMYK };
    const target = new WideTarget(context, colours, meant, shared, said);
    shared.targets.set(said, target);
    return target;
  }

  set(components: readonly number[], stroke: boolean): string {
    const kind = components.length >= 4 ? 'CMYK' : components.length >= 3 ? 'RGB' : 'grey';
    const space = this.spaces[kind];
    const held = Float64Array.from({ length: space.components }, (_, i) =>
      Math.min(1, Math.max(0, components[i] ?? 0)),
    );
    const parts = Array.from(space.colours(held), (value) => Number((value / FULL).toFixed(5)).toString());
    return `${parts.join(' ')} ${stroke ? 'RG' : 'rg'}`;
  }

  process(kind: ProcessKind): PDFObject {
    return this.table(this.spaces[kind]) ?? name('DeviceRGB');
  }

  space(value: PDFObject): PDFObject {
    const array = this.context.lookup(value);
    if (array instanceof PDFArray && array.lookup(0) === name('Pattern')) {
      if (array.size() < 2) return value;
      const out = array.clone(this.context);
      out.set(1, this.space(array.get(1)));
      return out;
    }
    const space = this.read(value);
    if (!space) return value;
    if (space.entries !== undefined) return this.paletteOf(indices(space.entries), space);
    return this.table(space) ?? value;
  }

  picture(stream: PDFRawStream, ref: PDFRef | null): PDFRawStream {
    const { dict } = stream;
    if (String(dict.lookup(name('ImageMask'))) === 'true') return stream;
    const space = this.spaceOfPicture(stream);
    if (!space) return stream;
    const bits = numberOf(dict, 'BitsPerComponent', 8);
    if (space.components === 1 && bits <= 8 && packingOf(stream) !== 'other') {
      this.setPalette(dict, space, bits);
      return stream;
    }
    const isOwed = ref !== null && space.fast !== null && packingOf(stream) !== 'other';
    if (isOwed && (bits === 8 || bits === 16) && !(dict.lookup(name('Mask')) instanceof PDFArray)) {
      this.shared.owed.push({ ref, space });
      return stream;
    }
    const value = dict.get(name('ColorSpace'));
    const stands = value ? this.space(value) : this.table(space);
    if (stands) dict.set(name('ColorSpace'), stands);
    return stream;
  }

  /** A picture of one component has as many colours as its bits can count: they are computed, its samples stay. */
  private setPalette(dict: PDFDict, space: ArtSpace, bits: number): void {
    const count = 2 ** bits;
    const natural = space.entries === undefined ? space.domain : [0, count - 1];
    const [from = 0, to = 1] = numbersOf(dict, 'Decode', natural);
    const samples = Float64Array.from({ length: count }, (_, i) => from + (i / (count - 1)) * (to - from));
    dict.set(name('ColorSpace'), this.paletteOf(samples, space));
    dict.delete(name('Decode'));
  }

  private paletteOf(samples: Float64Array, space: ArtSpace): PDFArray {
    const bytes = Buffer.from(Array.from(space.colours(samples), (value) => Math.round(value / 257)));
    const array = this.context.obj(['Indexed', 'DeviceRGB', samples.length - 1]);
    array.push(PDFHexString.of(bytes.toString('hex')));
    return array;
  }

  /** Of a picture that names none its own samples tell how many components it has. */
  private spaceOfPicture(stream: PDFRawStream): ArtSpace | null {
    const value = stream.dict.get(name('ColorSpace'));
    if (value) return this.read(value);
    const kind = BY_COMPONENTS[componentsOfJpeg2000(stream.contents)];
    return kind ? this.spaces[kind] : null;
  }

  private read(value: PDFObject): ArtSpace | null {
    return artSpace(value, this.context, this.spaces, this.colours);
  }

  /** A space of so many components that a table takes to RGB. */
  private table(space: ArtSpace): PDFArray | null {
    const known = this.shared.tables.get(space);
    if (known) return known;
    const { components, domain } = space;
    const nodes = NODES[components];
    if (nodes === undefined) return null;
    // The first component runs fastest.
    const samples = new Float64Array(nodes ** components * components);
    for (let node = 0; node < nodes ** components; node += 1) {
      for (let c = 0, left = node; c < components; c += 1) {
        const [least = 0, most = 1] = [domain[c * 2], domain[c * 2 + 1]];
        samples[node * components + c] = least + ((left % nodes) / (nodes - 1)) * (most - least);
        left = Math.floor(left / nodes);
      }
    }
    const bytes = Buffer.from(space.colours(samples).buffer).swap16();
    const tint = this.context.register(
      this.context.flateStream(bytes, {
        FunctionType: 0,
        Domain: [...domain],
        Range: [0, 1, 0, 1, 0, 1],
        Size: new Array<number>(components).fill(nodes),
        BitsPerSample: 16,
      }),
    );
    const array = this.context.obj([
      'DeviceN',
      domain.slice(components).map((_, i) => `Part${String(i)}`),
      'DeviceRGB',
    ]);
    array.push(tint);
    this.shared.tables.set(space, array);
    return array;
  }
}

const BY_COMPONENTS: Readonly<Record<number, ProcessKind>> = { 1: 'grey', 3: 'RGB', 4: 'CMYK' };

function indices(count: number): Float64Array {
  return Float64Array.from({ length: count }, (_, i) => i);
}

/** How many components a picture in JPEG 2000 says that it has; 0: it is none. Source: ISO 15444-1, A.5.1. */
function componentsOfJpeg2000(bytes: Uint8Array): number {
  const at = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.length, 65_536)).indexOf('ff4fff51', 0, 'hex');
  return at < 0 ? 0 : ((bytes[at + 40] ?? 0) << 8) | (bytes[at + 41] ?? 0);
}
