/** How the colours of artwork are read. */
export interface ArtworkRule {
  /** Whether profiles that files bring are used; else those below hold for all. */
  readonly embedded: boolean;
  /** Of RGB and grey without a profile, by its name; null: sRGB. */
  readonly rgb: string | null;
  /** Of CMYK without a profile, by its name; null: {@link ASSUMED_CMYK}. */
  readonly cmyk: string | null;
}

export const PLAIN_ARTWORK: ArtworkRule = { embedded: true, rgb: null, cmyk: null };

/** The profile of CMYK that comes without one, where nothing else is said: a made-up press on coated paper. */
export const ASSUMED_CMYK = 'Coated paper CMYK';

/** What is known of a file's colours. */
export interface ArtworkColourFacts {
  readonly colourSpaces: readonly string[];
  readonly spots: readonly string[];
  readonly profile: string | null;
}

/** Spaces that are read as they stand where nothing else is said. */
const PLAIN_SPACES: readonly string[] = ['RGB', 'grey'];

/** Whether the colours of a file are more than sRGB without a profile, so that they have to be read by profiles. */
export function needsProfiles({ colourSpaces, spots, profile }: ArtworkColourFacts, { rgb }: ArtworkRule): boolean {
  if (rgb !== null || spots.length > 0) return true;
  if (colourSpaces.some((space) => !PLAIN_SPACES.includes(space))) return true;
  // Also where it is to be left aside: what draws pages would use it by itself.
  return profile !== null && !isSrgb(profile);
}

/** Profiles of sRGB call themselves so. */
export function isSrgb(profile: string): boolean {
  return /^sRGB(?![a-z])/i.test(profile);
}
