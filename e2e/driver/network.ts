import { type ChildProcess, spawn } from 'node:child_process';
import { chmod, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { type Browser, chromium } from '@playwright/test';
import { chromiumOptions } from './chromium.ts';

/** Of the machine with the server, and of the one with the browser: addresses for documentation (RFC 5737). */
const SERVER = '192.0.2.7';
const BROWSER = '192.0.2.8';

/**
 * Two machines on a cable, as two network namespaces of this one: the server runs on the first, the browser on the second, and
 * neither reaches anything else.
 */
const MACHINES = `
ip link set lo up
unshare -n sleep 100000 & other=$!
until [ "$(readlink /proc/$other/ns/net)" != "$(readlink /proc/self/ns/net)" ]; do sleep 0.05; done
ip link add cable type veth peer name cable netns $other
ip addr add ${SERVER}/24 dev cable
ip link set cable up
nsenter -t $other -n sh -c "ip link set lo up; ip addr add ${BROWSER}/24 dev cable; ip link set cable up"
echo "other machine $other"
exec "$@"
`;

export class TestNetwork {
  private said = '';
  private constructor(
    private readonly server: ChildProcess,
    private readonly dir: string,
  ) {}

  /** Starts the built server on the first machine, in an empty shop. */
  static async open(...args: string[]): Promise<TestNetwork> {
    const dir = await mkdtemp(join(tmpdir(), 'yellow-spool-network-'));
    const program = [process.execPath, resolve('dist/server/main.mjs'), '--empty', '--data', join(dir, 'data')];
    const server = spawn('unshare', ['-r', '-n', 'sh', '-c', MACHINES, 'machines', ...program, ...args], {
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    const network = new TestNetwork(server, dir);
    for (const stream of [server.stdout, server.stderr]) {
      stream.on('data', (chunk: Buffer) => (network.said += chunk.toString()));
    }
    return network;
  }

  /** What the server has printed so far. */
  printed(): string {
    return this.said;
  }

  /** A browser on the other machine. */
  async browser(): Promise<Browser> {
    const other = /other machine (\d+)/.exec(this.said)?.[1];
    const { executablePath, args } = chromiumOptions();
    if (other === undefined || executablePath === undefined) throw new Error(`no other machine: ${this.said}`);
    const there = join(this.dir, 'browser');
    await writeFile(there, `#!/bin/sh\nexec nsenter -t ${other} -U --preserve-credentials -n ${executablePath} "$@"\n`);
    await chmod(there, 0o755);
    return chromium.launch({ executablePath: there, args });
  }

  async close(): Promise<void> {
    const gone = new Promise((done) => this.server.once('exit', done));
    if (this.server.pid !== undefined) process.kill(-this.server.pid, 'SIGTERM');
    await gone;
    await rm(this.dir, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
  }
}

export const SERVER_ADDRESS = SERVER;
