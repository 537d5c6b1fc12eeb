import {
  BYTES_SH,
  CHANNELS_SH,
  COLORSPACE_SH,
  cmsFLAGS_BLACKPOINTCOMPENSATION,
  cmsFLAGS_NOOPTIMIZE,
  instantiate,
  type Lcms,
  PT_CMYK,
  PT_GRAY,
  PT_Lab,
  PT_MCH1,
  PT_RGB,
} from 'lcms-wasm';
import { Unreadable } from '../facts.ts';
import { type ProfileFacts, profileHeader } from './profileHeader.ts';

/** Rendering intents, by the numbers of the standard. */
const INTENTS = { perceptual: 0, relative: 1, saturation: 2, absolute: 3 } as const;
export type LibraryIntent = keyof typeof INTENTS;

/** Colours from one space to another: interleaved numbers of 16 bits in, and out. */
export type Transform = (from: Uint16Array) => Uint16Array;

/** The same, in 8 bits. */
export type BytesTransform = (from: Uint8Array) => Uint8Array;

interface TransformHow {
  /** The black of the one becomes the black of the other; the library does so for RGB and CMYK. */
  readonly withBlackPoint?: boolean;
}

/** A profile that is open; the library holds it until {@link ColourLibrary.close}. */
export interface OpenProfile extends ProfileFacts {
  readonly handle: number;
}

/** The colour library, as far as tables are baked with it. What it opens is held until it is closed. */
export class ColourLibrary {
  private readonly profiles: number[] = [];
  private readonly transforms: number[] = [];

  private constructor(private readonly lcms: Lcms) {}

  static async open(): Promise<ColourLibrary> {
    return new ColourLibrary(await instantiate());
  }

  /** @throws Unreadable where it is no profile, or a damaged one */
  profile(bytes: Uint8Array): OpenProfile {
    const facts = profileHeader(bytes);
    const handle = this.lcms.cmsOpenProfileFromMem(bytes, bytes.length);
    if (handle === 0) throw new Unreadable('The profile is damaged and cannot be read.');
    this.profiles.push(handle);
    const name = this.lcms.cmsGetProfileInfoASCII(handle, 0, 'en', 'US').replace(/\0.*$/s, '').trim();
    return { ...facts, name, handle };
  }

  sRgb(): OpenProfile {
    const handle = this.lcms.cmsCreate_sRGBProfile();
    this.profiles.push(handle);
    return { name: 'sRGB', deviceClass: 'mntr', space: 'RGB', channels: 3, handle };
  }

  /** Lab under D50: L of 65,535 is 100, a and b of 0x8080 are 0. */
  lab(): OpenProfile {
    const handle = this.lcms.cmsCreateLab4Profile(null);
    this.profiles.push(handle);
    return { name: 'Lab', deviceClass: 'abst', space: 'Lab', channels: 3, handle };
  }

  /** @throws Unreadable where the profiles hold no way from one to the other */
  transform(from: OpenProfile, to: OpenProfile, intent: LibraryIntent, how: TransformHow = {}): Transform {
    const convert = this.converter(from, to, intent, { ...how, bytes: 2, flags: cmsFLAGS_NOOPTIMIZE });
    return (colours) => {
      const bytes = new Uint8Array(colours.buffer, colours.byteOffset, colours.byteLength);
      return new Uint16Array(convert(bytes, colours.length / from.channels).buffer);
    };
  }

  /** For pictures: the library may take its shortcuts. @throws Unreadable where the profiles hold no way from one to the other */
  transformBytes(from: OpenProfile, to: OpenProfile, intent: LibraryIntent, how: TransformHow = {}): BytesTransform {
    const convert = this.converter(from, to, intent, { ...how, bytes: 1, flags: 0 });
    return (colours) => convert(colours, colours.length / from.channels);
  }

  private converter(
    from: OpenProfile,
    to: OpenProfile,
    intent: LibraryIntent,
    { withBlackPoint = false, bytes, flags }: TransformHow & { readonly bytes: 1 | 2; readonly flags: number },
  ): (colours: Uint8Array, count: number) => Uint8Array {
    const { lcms } = this;
    const handle = lcms.cmsCreateTransform(
      from.handle,
      formatOf(from, bytes),
      to.handle,
      formatOf(to, bytes),
      INTENTS[intent],
      flags | (withBlackPoint ? cmsFLAGS_BLACKPOINTCOMPENSATION : 0),
    );
    if (handle === 0) {
      const of = from.space === 'Lab' ? to : from;
      throw new Unreadable(`The profile ${of.name} is damaged: its tables can’t be read.`);
    }
    this.transforms.push(handle);
    return (colours, count) => {
      const length = count * to.channels * bytes;
      const inAt = lcms._malloc(colours.length);
      const outAt = lcms._malloc(length);
      try {
        // Memory may have grown: the view is taken anew.
        lcms.HEAPU8.set(colours, inAt);
        lcms._cmsDoTransform(handle, inAt, outAt, count);
        return lcms.HEAPU8.slice(outAt, outAt + length);
      } finally {
        lcms._free(inAt);
        lcms._free(outAt);
      }
    };
  }

  close(): void {
    for (const handle of this.transforms.splice(0)) this.lcms.cmsDeleteTransform(handle);
    for (const handle of this.profiles.splice(0)) this.lcms.cmsCloseProfile(handle);
  }
}

/** Numbers of so many bytes in the library's words. */
function formatOf({ space, channels }: OpenProfile, bytes: 1 | 2): number {
  const known: Readonly<Record<string, number>> = { Lab: PT_Lab, RGB: PT_RGB, CMYK: PT_CMYK, GRAY: PT_GRAY };
  const kind = known[space] ?? PT_MCH1 + channels - 1;
  return COLORSPACE_SH(kind) | CHANNELS_SH(channels) | BYTES_SH(bytes);
}
