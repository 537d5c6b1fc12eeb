import { parse as parseIcc } from 'icc';

/** The name that an embedded ICC profile gives itself. */
export function profileName(icc: Buffer | undefined): string | null {
  if (!icc) return null;
  try {
    return parseIcc(icc).description ?? 'unnamed profile';
  } catch {
    return 'unreadable profile';
  }
}
