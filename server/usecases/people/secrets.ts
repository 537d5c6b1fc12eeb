import { createHash, randomBytes, randomInt } from 'node:crypto';

/** What opens a door: 256 bits that nobody guesses. */
export function newSecret(): string {
  return randomBytes(32).toString('base64url');
}

/** What is kept of a secret. Secrets are random, so that a plain digest is enough. */
export function digestOf(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url');
}

/** Letters and digits that nobody takes for one another. */
const LETTERS = '23456789abcdefghjkmnpqrstuvwxyz';

/** A code that people read off and type: four groups of five, 99 bits. */
export function newCode(): string {
  const group = (): string => Array.from({ length: 5 }, () => LETTERS[randomInt(LETTERS.length)]).join('');
  return [group(), group(), group(), group()].join('-');
}

/** A code as it was typed, in the form in which it was made. */
export function readCode(typed: string): string {
  return (typed.toLowerCase().match(/[a-z0-9]/g) ?? []).join('').replace(/(.{5})(?=.)/g, '$1-');
}
