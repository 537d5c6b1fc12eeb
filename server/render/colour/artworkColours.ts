import type { Intent } from '../../../core/coats/intent.ts';
import { Unreadable } from '../facts.ts';
import { ColourLibrary, type LibraryIntent, type OpenProfile, type Transform } from './colourLibrary.ts';
import { wideProfile } from './wideSpace.ts';

/** How the colours of artwork are read. */
export interface ArtworkProfiles {
  /** Whether profiles that files bring are used. */
  readonly embedded: boolean;
  /** Of RGB and grey that bring none; null: sRGB. */
  readonly rgb: Uint8Array | null;
  /** Of CMYK that brings none. */
  readonly cmyk: Uint8Array;
  readonly intent: Intent;
}

/** Colours of one space in the wide RGB, in which pages are drawn. */
export interface ToWide {
  readonly channels: number;
  /** Interleaved numbers of 16 bits, full range, in and out; out three for each colour. */
  readonly exact: Transform;
  /** The same in 8 bits: for pictures. */
  readonly fast: (from: Uint8Array) => Uint8Array;
}

const FULL = 65_535;
/** White that is further off than this is meant to be seen: the intent is absolute, or the profile says so. */
const NEAR_WHITE = 4 * 257;

/**
 * Artwork's own colours, by the profiles that it brings and those that are taken where it brings none. The white of each space is the bare
 * media, but for the absolute intent, which shows what white it has.
 */
export class ArtworkColours {
  private readonly wide: OpenProfile;
  private readonly known = new Map<string, ToWide>();

  private constructor(
    private readonly library: ColourLibrary,
    private readonly how: ArtworkProfiles,
  ) {
    this.wide = library.profile(wideProfile());
  }

  static async open(how: ArtworkProfiles): Promise<ArtworkColours> {
    return new ArtworkColours(await ColourLibrary.open(), how);
  }

  get usesEmbedded(): boolean {
    return this.how.embedded;
  }

  /** Of RGB that brings no profile; grey is as much of each of its three. */
  get rgb(): ToWide {
    return this.once('rgb', () => {
      const { rgb } = this.how;
      return rgb === null ? this.library.sRgb() : this.profileFor(rgb, 3);
    });
  }

  /** Of CMYK that brings no profile. */
  get cmyk(): ToWide {
    return this.once('cmyk', () => this.profileFor(this.how.cmyk, 4));
  }

  /** Of Lab: L of 65,535 is 100, a and b of 0x8080 are 0. */
  get lab(): ToWide {
    return this.once('lab', () => this.library.lab());
  }

  /**
   * Of a profile that the artwork brings.
   * @param key names it, so that it is opened once
   * @throws Unreadable where it is damaged, or for another number of channels
   */
  embedded(key: string, bytes: () => Uint8Array, channels: number): ToWide {
    return this.once(`own ${key}`, () => this.profileFor(bytes(), channels));
  }

  close(): void {
    this.library.close();
  }

  private profileFor(bytes: Uint8Array, channels: number): OpenProfile {
    const profile = this.library.profile(bytes);
    if (profile.channels !== channels) {
      throw new Unreadable(
        `The profile ${profile.name} has ${String(profile.channels)} channels, and the artwork that it describes has ${String(channels)}.`,
      );
    }
    return profile;
  }

  private once(key: string, open: () => OpenProfile): ToWide {
    const known = this.known.get(key);
    if (known) return known;
    const made = this.toWide(open());
    this.known.set(key, made);
    return made;
  }

  private toWide(profile: OpenProfile): ToWide {
    const { library, wide } = this;
    const { intent } = this.how;
    const own: LibraryIntent = intent === 'relative with black point' ? 'relative' : intent;
    const withBlackPoint = intent === 'relative with black point';
    const exact = library.transform(profile, wide, own, { withBlackPoint });
    const white = whiteOf(profile);
    const seen16 = exact(white);
    const isBare = intent !== 'absolute' && seen16.every((value) => value >= FULL - NEAR_WHITE);
    /** Made where there is a picture: the library takes its time for shortcuts. */
    let fast: ToWide['fast'] | undefined;
    const madeFast = (): ToWide['fast'] => {
      const bytes = library.transformBytes(profile, wide, own, { withBlackPoint });
      const seen8 = bytes(Uint8Array.from(white, (value) => value >> 8));
      return (colours) => (isBare ? whitened(bytes(colours), seen8, 255) : bytes(colours));
    };
    return {
      channels: profile.channels,
      exact: (colours) => (isBare ? whitened(exact(colours), seen16, FULL) : exact(colours)),
      fast: (colours) => {
        fast ??= madeFast();
        return fast(colours);
      },
    };
  }
}

/** Components of white: no ink, or all light. */
function whiteOf({ space, channels }: OpenProfile): Uint16Array {
  if (space === 'Lab') return Uint16Array.of(FULL, 0x8080, 0x8080);
  return new Uint16Array(channels).fill(space === 'CMYK' || /CLR$/.test(space) ? 0 : FULL);
}

/** A white that came out a little off is white: single dots on bare media are dirt. */
function whitened<T extends Uint8Array | Uint16Array>(colours: T, seen: T, full: number): T {
  const [r, g, b] = seen;
  if (r === full && g === full && b === full) return colours;
  for (let at = 0; at < colours.length; at += 3) {
    if (colours[at] === r && colours[at + 1] === g && colours[at + 2] === b) colours.fill(full, at, at + 3);
  }
  return colours;
}
