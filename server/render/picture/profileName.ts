import { parse as parseIcc } from 'icc';
import { profileHeader } from '../colour/profileHeader.ts';

/** Of a profile that can't be read. */
export const UNREADABLE_PROFILE = 'unreadable profile';
const UNNAMED = 'unnamed profile';
const HEADER_BYTES = 132;
const TAG_BYTES = 12;

/** The name that an embedded ICC profile gives itself. */
export function profileName(icc: Buffer | undefined): string | null {
  if (!icc) return null;
  // The parser believes the count of tags: a damaged one would keep it busy for minutes.
  if (icc.length < HEADER_BYTES || HEADER_BYTES + icc.readUInt32BE(128) * TAG_BYTES > icc.length)
    return UNREADABLE_PROFILE;
  try {
    return parseIcc(icc).description ?? UNNAMED;
  } catch {
    return isWhole(icc) ? UNNAMED : UNREADABLE_PROFILE;
  }
}

/** The parser gives up on words that it does not know; the colours may be fine all the same. */
function isWhole(icc: Buffer): boolean {
  try {
    profileHeader(icc);
    return true;
  } catch {
    return false;
  }
}
