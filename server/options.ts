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
}

const MOST_RATE = 3600;
/** Names by which the shop answers: see core/web/ownRequest.ts. */
const LOOPBACK = ['127.0.0.1', 'localhost', '::1'];

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
  if (!LOOPBACK.includes(host)) {
    throw new BadOption(
      `--host ${host}: as long as there is no sign-in yet, the shop answers on this machine only, as ${LOOPBACK.join(', ')}. Leave it out.`,
    );
  }
  const rate = values.rate === undefined ? undefined : Number(values.rate.trim() || Number.NaN);
  if (rate !== undefined && !(rate >= 0 && rate <= MOST_RATE)) {
    throw new BadOption(
      `--rate ${values.rate ?? ''} is no speed of the shop's time. Give a number from 0 (it stands still) to ${String(MOST_RATE)}; 1 is real time.`,
    );
  }
  const data = values.data === undefined ? resolve(dist, '..', 'data') : resolve(typedIn, values.data);
  return { data, dist, port, host, rate, empty: values.empty, crew: values.crew };
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
      },
    }).values;
  } catch (error) {
    const { message } = error as Error;
    throw new BadOption(`${message}\nThere are --empty, --no-crew, --port N, --data DIR, --host ADDRESS and --rate N.`);
  }
}

function whole(text: string | undefined, otherwise: number): number | undefined {
  if (text === undefined) return otherwise;
  return /^\d{1,6}$/.test(text.trim()) ? Number(text) : undefined;
}
