import { isIP } from 'node:net';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';

export interface Options {
  /** The folder with everything that the shop knows. */
  readonly data: string;
  readonly dist: string;
  readonly port: number;
  readonly host: string;
  /** How fast shop time runs; undefined: as it did. */
  readonly rate: number | undefined;
  readonly empty: boolean;
  /** Whether the demo's crew works; a shop that is not a demo has none. */
  readonly crew: boolean;
  /** The address by which people know it, without a path; undefined: the one that it listens on. */
  readonly publicUrl: string | undefined;
  /** Proxies in front of it whose word counts. */
  readonly trustedHops: number;
  /** Files of a certificate and its key (PEM): it answers by TLS only. */
  readonly certificate: { readonly cert: string; readonly key: string } | undefined;
  /** Whether people have to sign in; undefined: as it was, or must be. */
  readonly signIn: boolean | undefined;
  /** Prints a new code with which somebody becomes an owner. */
  readonly ownerCode: boolean;
}

const MOST_RATE = 3600;

/** What was wrong with how the server was started, in words for whoever typed it. */
export class BadOption extends Error {}

/**
 * Reads the command line.
 * @param args without the program's own name
 * @param typedIn where the person stands: a relative data folder is meant from there
 * @param distDefault where the built program lies
 * @throws BadOption with the way out
 */
export function readOptions(args: readonly string[], typedIn: string, distDefault: string): Options {
  const values = parsed(args);
  const dist = resolve(values.dist ?? distDefault);
  const port = whole(values.port, 4780);
  if (port === undefined || port > 65_535) {
    throw new BadOption(
      `--port ${String(values.port)} is no port. Give a number from 0 to 65535, such as --port 4781.`,
    );
  }
  const host = values.host ?? '127.0.0.1';
  if (host !== 'localhost' && isIP(host) === 0) {
    throw new BadOption(
      `--host ${host} is no address of a machine. Give one such as 192.0.2.7, or 0.0.0.0 for all that this machine has.`,
    );
  }
  const rate = values.rate === undefined ? undefined : Number(values.rate.trim() || Number.NaN);
  if (rate !== undefined && !(rate >= 0 && rate <= MOST_RATE)) {
    throw new BadOption(
      `--rate ${values.rate ?? ''} is no speed of the shop's time. Give a number from 0 (it stands still) to ${String(MOST_RATE)}; 1 is real time.`,
    );
  }
  const data = values.data === undefined ? resolve(dist, '..', 'data') : resolve(typedIn, values.data);
  return {
    ...{ data, dist, port, host, rate, empty: values.empty, crew: values.crew },
    publicUrl: publicUrlIn(values.public),
    trustedHops: hopsIn(values['trust-proxy']),
    certificate: certificateIn(values.cert, values.key, typedIn),
    signIn: values['sign-in'],
    ownerCode: values['owner-code'],
  };
}

function publicUrlIn(text: string | undefined): string | undefined {
  if (text === undefined) return undefined;
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (url && /^https?:$/.test(url.protocol) && url.pathname === '/' && url.search === '' && url.username === '')
    return url.origin;
  throw new BadOption(`--public ${text} is no address of a server. Give one such as https://print.example.`);
}

function hopsIn(text: string | undefined): number {
  const hops = whole(text, 0);
  if (hops !== undefined && hops <= 10) return hops;
  throw new BadOption(
    `--trust-proxy ${String(text)} is no number of proxies. Give how many stand between browsers and this server, such as 1.`,
  );
}

function certificateIn(cert: string | undefined, key: string | undefined, typedIn: string): Options['certificate'] {
  if (cert === undefined && key === undefined) return undefined;
  if (cert === undefined || key === undefined) {
    throw new BadOption('A certificate takes two files: --cert FILE and --key FILE.');
  }
  return { cert: resolve(typedIn, cert), key: resolve(typedIn, key) };
}

/** The command line as Node reads it; an option that there is not is a mistake of whoever typed it, not a fault. */
function parsed(args: readonly string[]) {
  try {
    return parseArgs({
      args: [...args],
      allowNegative: true,
      options: {
        data: { type: 'string' },
        port: { type: 'string' },
        host: { type: 'string' },
        rate: { type: 'string' },
        empty: { type: 'boolean', default: false },
        crew: { type: 'boolean', default: true },
        dist: { type: 'string' },
        public: { type: 'string' },
        'trust-proxy': { type: 'string' },
        cert: { type: 'string' },
        key: { type: 'string' },
        'sign-in': { type: 'boolean' },
        'owner-code': { type: 'boolean', default: false },
      },
    }).values;
  } catch (error) {
    const { message } = error as Error;
    throw new BadOption(
      `${message}\nThere are --empty, --no-crew, --port N, --data DIR, --host ADDRESS, --rate N, --public URL, --trust-proxy N, --cert FILE, --key FILE, --sign-in, --no-sign-in and --owner-code.`,
    );
  }
}

function whole(text: string | undefined, otherwise: number): number | undefined {
  if (text === undefined) return otherwise;
  return /^\d{1,6}$/.test(text.trim()) ? Number(text) : undefined;
}
