import { readFileSync, statSync } from 'node:fs';
import { type Server, createServer } from 'node:http';
import { type Server as TlsServer, createServer as createTlsServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';
import type { Express } from 'express';
import { LOOPBACK } from '../core/people/exposure.ts';
import type { Options } from './options.ts';

/** Connections at a time: pages of a whole shop, and what its devices fetch. */
const MOST_CONNECTIONS = 1000;
/** Headers have to be there within; a request that is still being sent, such as large files on a slow line, within. */
const HEADERS_MS = 30_000;
const REQUEST_MS = 3_600_000;

/** Where the server answers. */
export interface Listening {
  /** For people. */
  readonly port: () => number;
  readonly ports: () => readonly number[];
  /** As people type it. */
  readonly address: () => string;
  /** For devices and programs of this machine, always without TLS. */
  readonly inner: () => string;
  /** Names under which it may be asked, besides those of this machine alone. */
  readonly names: () => readonly string[];
  /** Takes a certificate that was renewed. */
  readonly renew: () => void;
  readonly close: () => void;
}

type Certificate = NonNullable<Options['certificate']>;

/**
 * Listens for people where the options say. With a certificate it answers them by TLS only; programs of this machine then have
 * a port of their own, which nobody else can reach.
 * @throws where a port is taken, or a file of the certificate can't be read
 */
export async function listen(app: Express, options: Options): Promise<Listening> {
  const { certificate, host } = options;
  const outer = certificate ? createTlsServer(pem(certificate), app) : createServer(app);
  await open(outer, options.port, host);
  const isReachedPlainly = !certificate && ['0.0.0.0', '::', ...LOOPBACK].includes(host);
  // A device on this machine must reach it whatever address it has.
  const inside = isReachedPlainly ? undefined : createServer(app);
  if (inside) await open(inside, 0, '127.0.0.1');
  const port = (): number => portOf(outer);
  let readMs = certificate ? changedMs(certificate) : 0;
  return {
    port,
    ports: () => [port(), ...(inside ? [portOf(inside)] : [])],
    address: () => options.publicUrl ?? `${certificate ? 'https' : 'http'}://${shownHost(host)}:${String(port())}`,
    inner: () => `http://${inside ? `127.0.0.1:${String(portOf(inside))}` : `${ownHost(host)}:${String(port())}`}`,
    names: () => [...addresses(host), ...(options.publicUrl === undefined ? [] : [new URL(options.publicUrl).host])],
    renew: () => {
      if (!certificate || changedMs(certificate) === readMs) return;
      const changed = changedMs(certificate);
      (outer as TlsServer).setSecureContext(pem(certificate));
      // Only now: one that was half written is tried again.
      readMs = changed;
    },
    close: () => {
      for (const server of [outer, inside]) {
        server?.close();
        server?.closeAllConnections();
      }
    },
  };
}

function pem({ cert, key }: Certificate): { readonly cert: Buffer; readonly key: Buffer } {
  return { cert: readFileSync(cert), key: readFileSync(key) };
}

function changedMs({ cert, key }: Certificate): number {
  return statSync(cert).mtimeMs + statSync(key).mtimeMs;
}

function portOf(server: Server): number {
  return (server.address() as AddressInfo | null)?.port ?? 0;
}

async function open(server: Server, port: number, host: string): Promise<void> {
  server.maxConnections = MOST_CONNECTIONS;
  server.headersTimeout = HEADERS_MS;
  server.requestTimeout = REQUEST_MS;
  await new Promise<void>((done, failed) => {
    server.once('error', failed);
    server.listen(port, host, () => {
      server.off('error', failed);
      done();
    });
  });
}

/** As this machine reaches what listens on it without TLS. */
function ownHost(host: string): string {
  return (LOOPBACK as readonly string[]).includes(host) ? bracketed(host) : '127.0.0.1';
}

/** As people type it: one that stands for all addresses of this machine is none to be typed. */
function shownHost(host: string): string {
  if (host === '0.0.0.0' || host === '::') return addresses(host).find((each) => !each.startsWith('[')) ?? '127.0.0.1';
  return bracketed(host);
}

/** The addresses that it answers at. */
function addresses(host: string): string[] {
  if ((LOOPBACK as readonly string[]).includes(host)) return [];
  if (host !== '0.0.0.0' && host !== '::') return [bracketed(host)];
  const all = Object.values(networkInterfaces()).flatMap((each) => each ?? []);
  return [...all.filter(({ internal }) => !internal).map(({ address }) => bracketed(address)), hostname()];
}

function bracketed(address: string): string {
  return address.includes(':') ? `[${address}]` : address;
}
