import { Unreadable } from '../facts.ts';

/** What a profile says of itself. */
export interface ProfileFacts {
  readonly name: string;
  /** Of the standard: what it describes, such as `prtr` for a printer. */
  readonly deviceClass: string;
  /** Such as `RGB`, `CMYK` or `6CLR`. */
  readonly space: string;
  readonly channels: number;
}

const HEADER_BYTES = 128;
const KNOWN_CHANNELS: Readonly<Record<string, number>> = { GRAY: 1, RGB: 3, CMYK: 4 };

/** @throws Unreadable where bytes are no whole profile, with the reason */
export function profileHeader(bytes: Uint8Array): Omit<ProfileFacts, 'name'> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const letters = (at: number): string => Buffer.from(bytes.subarray(at, at + 4)).toString('latin1');
  if (bytes.length < HEADER_BYTES || letters(36) !== 'acsp') throw new Unreadable('This is no ICC profile.');
  const told = view.getUint32(0);
  if (told > bytes.length) {
    throw new Unreadable(
      `The profile is cut short: it says ${String(told)} bytes, and ${String(bytes.length)} are here.`,
    );
  }
  const space = letters(16).trim();
  const numbered = /^([1-9A-F])CLR$/.exec(space);
  const channels = KNOWN_CHANNELS[space] ?? (numbered ? parseInt(numbered[1] ?? '', 16) : 0);
  if (channels === 0) throw new Unreadable(`Profiles of the colour space ${space || 'without a name'} are not used.`);
  return { deviceClass: letters(12), space, channels };
}
