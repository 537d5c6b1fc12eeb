import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { dictionary } from '@zxcvbn-ts/language-common';
import PQueue from 'p-queue';
import { Refused } from '../../shop.ts';

/*
 * Passwords are kept as scrypt makes them. One derivation takes 64 MiB and some tenths of a second of a thread, so that only
 * a few are under way at a time, and whoever would make a crowd of them is sent away.
 */
const COST = { N: 2 ** 16, r: 8, p: 1 } as const;
/** 128 · N · r, and a little room. */
const MEMORY = 128 * COST.N * COST.r + 2 ** 20;
const KEY_BYTES = 32;
const AT_ONCE = 2;
const MOST_WAITING = 20;

const LEAST_LENGTH = 12;

const queue = new PQueue({ concurrency: AT_ONCE });
let common: ReadonlySet<string> | undefined;

/** @throws Refused with what a password has to be, where it is too short, too common or made of the name */
export function mustBePassword(password: string, names: readonly string[]): void {
  const refuse = (why: string): never => {
    throw new Refused(
      422,
      'weak-password',
      `This password can’t be used: ${why}.`,
      undefined,
      'Take three or four words that nobody would put together.',
    );
  };
  if (password.length < LEAST_LENGTH) refuse(`it needs at least ${String(LEAST_LENGTH)} characters`);
  const small = password.toLowerCase();
  common ??= new Set(dictionary.passwords);
  if (common.has(small)) refuse('it is one of those that are tried first');
  if (new Set(small).size < 5) refuse('it has fewer than five different characters');
  const own = [...names, 'yellow spool', 'yellowspool']
    .map((name) => name.toLowerCase())
    .filter((name) => name.length > 3);
  if (own.some((name) => small.replace(name, '').length < LEAST_LENGTH / 2)) refuse('it is little more than a name');
}

/** @returns what is kept of a password, with all that is needed to check it later */
export async function hashOf(password: string): Promise<string> {
  const salt = randomBytes(16);
  const key = await derived(password, salt);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), key.toString('base64url')].join('$');
}

/**
 * Whether a password is the one that was kept. Takes as long where nothing is kept, so that nobody learns from the time which
 * names there are.
 */
export async function isPassword(password: string, kept: string | null): Promise<boolean> {
  const [, , , , salt = '', key = ''] = (kept ?? '').split('$');
  const found = await derived(password, Buffer.from(salt, 'base64url'));
  const wanted = Buffer.from(key, 'base64url');
  return wanted.length === found.length && timingSafeEqual(found, wanted);
}

async function derived(password: string, salt: Buffer): Promise<Buffer> {
  if (queue.size >= MOST_WAITING) {
    throw new Refused(
      503,
      'busy',
      'Too many people are signing in at this moment.',
      undefined,
      'Try again in a few seconds.',
    );
  }
  return queue.add(
    () =>
      new Promise<Buffer>((done, failed) => {
        // The same letters typed on another keyboard are the same password.
        scrypt(password.normalize('NFKC'), salt, KEY_BYTES, { ...COST, maxmem: MEMORY }, (error, key) => {
          if (error) failed(error);
          else done(key);
        });
      }),
  );
}
