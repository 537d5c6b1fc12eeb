import type { TaskView } from '../../contract/api/task.ts';
import { type ChildProcess, spawn } from 'node:child_process';
import { appendFile, mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { LogEvent } from '../../contract/api/common.ts';
import type { RunItem, SpoolView } from '../../contract/api/floor.ts';
import type { QueueView } from '../../contract/api/ticket.ts';
import type { JobItem, JobList, RefusalView, UploadResult } from '../../contract/api/job.ts';
import type { RunDetail } from '../../contract/api/run.ts';
import type { FaultOrder } from '../../contract/machine/protocol.ts';

/** A demo draws its artwork first; on a machine that is shared that can take a while. */
const READY_MS = 180_000;

/** So many for each worker; below the range from which systems take the ports of outgoing connections. */
const PORTS = 2000;
const FIRST_PORT = 20_000 + PORTS * Number(process.env.TEST_PARALLEL_INDEX ?? 4);
let tried = 0;

/**
 * A port that stays free until the server takes it: of a range of this worker's own, from which no connection that a busy shop
 * opens meanwhile can get it.
 */
async function freePort(): Promise<number> {
  for (;;) {
    const port = FIRST_PORT + (tried++ % PORTS);
    const free = await new Promise<boolean>((done) => {
      const probe = createServer()
        .once('error', () => {
          done(false);
        })
        .listen(port, '127.0.0.1', () => {
          probe.close(() => {
            done(true);
          });
        });
    });
    if (free) return port;
  }
}

/** Nothing is decided by it: a machine that is many times slower only takes longer. */
const SAFETY_NET_MS = 180_000;

/** A whole shop for a test: the built server and its stand-ins on a data folder of their own. */
export class TestShop {
  private server: ChildProcess | undefined;
  /** Sent with every request of a test: who asks, where people have to sign in. */
  headers: Readonly<Record<string, string>> = {};
  private constructor(
    readonly dataDir: string,
    readonly port: number,
    private readonly args: readonly string[],
    private readonly env: Readonly<Record<string, string>>,
  ) {}

  /**
   * @param options.dataDir a folder that is there already, with a shop or without; left out: a temporary one
   * @param options.env what the server is told besides
   */
  static async open(
    options: {
      rate?: number;
      demo?: boolean;
      crew?: boolean;
      dataDir?: string;
      env?: Readonly<Record<string, string>>;
    } = {},
  ): Promise<TestShop> {
    const dataDir = options.dataDir ?? (await mkdtemp(join(tmpdir(), 'yellow-spool-e2e-')));
    const args = [...(options.demo === true ? (options.crew === true ? [] : ['--no-crew']) : ['--empty'])];
    const shop = new TestShop(dataDir, await freePort(), args, options.env ?? {});
    try {
      await shop.start();
    } catch (error) {
      await shop.close();
      throw error;
    }
    if (options.rate !== undefined) await shop.setRate(options.rate);
    return shop;
  }

  /** Of the server's process; its memory is looked at by benches. */
  get pid(): number | undefined {
    return this.server?.pid;
  }

  get url(): string {
    return `http://127.0.0.1:${String(this.port)}`;
  }

  async start(): Promise<void> {
    this.server = spawn(
      process.execPath,
      [resolve('dist/server/main.mjs'), '--data', this.dataDir, '--port', String(this.port), ...this.args],
      {
        stdio: ['ignore', 'ignore', 'inherit'],
        env: {
          ...process.env,
          YELLOW_SPOOL_INCOMPLETE_MS: '9000',
          YELLOW_SPOOL_UNKNOWN_MS: '1500',
          // Machines that run tests have little room now and then; the limit has a test of its own.
          YELLOW_SPOOL_LEAST_FREE_BYTES: String(20 * 1024 ** 2),
          ...this.env,
          // What it asks the database is looked at afterwards, by scripts/queryPlans.ts.
          YELLOW_SPOOL_STATEMENTS: resolve('dist/statements', `${String(this.port)}.jsonl`),
        },
      },
    );
    const { server } = this;
    await this.until(async () => {
      // What has ended will never answer; it has said why.
      if (server.exitCode !== null) return true;
      return (await fetch(`${this.url}/api/health`)).ok;
    }, READY_MS);
    if (server.exitCode !== null) throw new Error(`the server ended at once, with ${String(server.exitCode)}`);
  }

  /** Like a power cut for the server; the printers go on. */
  async kill9(): Promise<void> {
    const { server } = this;
    const gone = new Promise((done) => server?.once('exit', done));
    server?.kill('SIGKILL');
    await gone;
  }

  /** Ends in order, and keeps its data. */
  async stop(): Promise<void> {
    const { server } = this;
    if (server?.exitCode === null && server.signalCode === null) {
      const gone = new Promise((done) => server.once('exit', done));
      server.kill('SIGTERM');
      await gone;
    }
  }

  async close(): Promise<void> {
    await this.stop();
    await this.control('POST', '/control/shutdown').catch(() => undefined);
    await rm(this.dataDir, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
  }

  async until(check: () => Promise<boolean>, withinMs = SAFETY_NET_MS): Promise<void> {
    const end = Date.now() + withinMs;
    for (;;) {
      if (await check().catch(() => false)) return;
      if (Date.now() > end) throw new Error(`did not come true within ${String(withinMs)} ms: ${check.toString()}`);
      await new Promise((done) => setTimeout(done, 60));
    }
  }

  async get<T>(path: string): Promise<T> {
    // A kept connection may have been closed by the server meanwhile: asked once more on a new one.
    const ask = () => fetch(this.url + path, { headers: this.headers });
    const answer = await ask().catch(ask);
    return this.answerOf<T>(path, answer);
  }

  /** A file that the server makes: where it takes longer, its task is waited for and the file asked for again. */
  async file(path: string): Promise<Buffer> {
    const ask = () => fetch(this.url + path, { headers: this.headers });
    const first = await ask();
    if (first.status === 202) await this.answerOf(path, first);
    const answer = first.status === 202 ? await ask() : first;
    if (answer.status !== 200) throw new Error(`${path}: ${String(answer.status)} ${await answer.text()}`);
    return Buffer.from(await answer.arrayBuffer());
  }

  /** The answer to a request; one that takes longer is followed as a task. */
  private async answerOf<T>(path: string, answer: Response): Promise<T> {
    if (!answer.ok) throw new Error(`${path}: ${String(answer.status)} ${await answer.text()}`);
    if (answer.status !== 202) return (await answer.json()) as T;
    const { taskId } = (await answer.json()) as { taskId: string };
    for (;;) {
      await new Promise((done) => setTimeout(done, 100));
      const task = await this.get<TaskView>(`/api/tasks/${taskId}`);
      if (task.state === 'done') return task.result as T;
      if (task.state === 'failed' || task.state === 'cancelled') {
        throw new Error(`${path}: ${task.state}, ${task.error?.message ?? 'for no reason'}`);
      }
    }
  }

  async send<T>(method: string, path: string, body?: unknown): Promise<T> {
    const answer = await fetch(this.url + path, {
      method,
      headers: { ...this.headers, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    return this.answerOf<T>(path, answer);
  }

  /** Files by the API: what was taken, and what was refused with its reason, also where that is all of them. */
  async upload(form: FormData): Promise<UploadResult> {
    const answer = await fetch(`${this.url}/api/jobs`, { method: 'POST', headers: this.headers, body: form });
    return answer.status === 422 ? ((await answer.json()) as UploadResult) : this.answerOf('/api/jobs', answer);
  }

  setRate(rate: number): Promise<unknown> {
    return this.send('PUT', '/api/clock', { rate });
  }

  async hotFolder(queueId: string): Promise<string> {
    const queues = await this.get<QueueView[]>('/api/queues');
    const path = queues.find((queue) => queue.id === queueId)?.hotFolders[0]?.path;
    if (path === undefined) throw new Error(`no hot folder for ${queueId}`);
    return path;
  }

  async drop(queueId: string, name: string, bytes: Buffer): Promise<void> {
    await writeFile(join(await this.hotFolder(queueId), name), bytes);
  }

  /** A slow copy: the first part now, the rest when `finish` is called. */
  async dropSlowly(queueId: string, name: string, bytes: Buffer): Promise<{ finish: () => Promise<void> }> {
    const path = join(await this.hotFolder(queueId), name);
    const half = Math.floor(bytes.length / 2);
    await writeFile(path, bytes.subarray(0, half));
    return { finish: () => appendFile(path, bytes.subarray(half)) };
  }

  async refusedFile(queueId: string, name: string): Promise<string> {
    return readFile(join(await this.hotFolder(queueId), 'refused', name), 'utf8');
  }

  /** What still lies in a hot folder, claims included. */
  async leftIn(queueId: string): Promise<string[]> {
    const dir = await this.hotFolder(queueId);
    const entries = await readdir(dir, { recursive: true, withFileTypes: true });
    return entries.filter((entry) => entry.isFile()).map((entry) => entry.name);
  }

  async jobs(): Promise<JobItem[]> {
    return (await this.get<JobList>('/api/jobs?limit=2000')).items;
  }

  async job(name: string): Promise<JobItem> {
    const found = (await this.jobs()).find((job) => job.sourceName === name);
    if (!found) throw new Error(`no job ${name}`);
    return found;
  }

  /** Sets values of a job's ticket. */
  async setTicket(name: string, change: Record<string, unknown>): Promise<void> {
    await this.send('PATCH', `/api/jobs/${(await this.job(name)).id}`, change);
  }

  async jobIs(name: string, state: string, withinMs?: number): Promise<void> {
    await this.until(async () => (await this.job(name)).state === state, withinMs);
  }

  async bringIn(queueId: string, name: string, bytes: Buffer): Promise<JobItem> {
    await this.drop(queueId, name, bytes);
    await this.until(async () => ['ready', 'blocked'].includes((await this.job(name)).state));
    return this.job(name);
  }

  /** Dissolves what lies on the Bench, so that tests which share a shop don't meet each other's drafts. */
  async clearBench(): Promise<void> {
    for (const run of await this.runs())
      if (run.state === 'draft') await this.send('POST', `/api/runs/${run.id}/dissolve`);
  }

  runs(): Promise<RunItem[]> {
    return this.get('/api/runs');
  }

  run(id: string): Promise<RunDetail> {
    return this.get(`/api/runs/${id}`);
  }

  async runIs(id: string, state: string, withinMs = SAFETY_NET_MS): Promise<void> {
    let seen: unknown = 'nothing';
    const is = async (): Promise<boolean> => {
      const run = await this.run(id);
      seen = { state: run.state, reason: run.reason, attempt: run.attempt };
      return run.state === state;
    };
    await this.until(is, withinMs).catch(async (error: unknown) => {
      const printers = await this.get('/api/printers').catch(String);
      throw new Error(`${id} is not ${state}: ${JSON.stringify({ seen, printers })}`, { cause: error });
    });
  }

  /** A run of these jobs laid one behind the other, queued without the pages. */
  async queueRun(jobIds: readonly string[]): Promise<RunDetail> {
    const draft = await this.send<RunDetail>('POST', '/api/runs', { jobIds });
    let y = draft.settings.leadMm;
    const placements = draft.pieces.map((piece) => {
      const place = { pieceId: piece.pieceId, xMm: 0, yMm: y, angleDeg: 0 };
      y += piece.heightMm + draft.settings.gapMm;
      return place;
    });
    await this.send('PUT', `/api/runs/${draft.id}/layout`, { settings: draft.settings, placements });
    return this.send('POST', `/api/runs/${draft.id}/queue`);
  }

  async spool(id: string): Promise<SpoolView> {
    const found = (await this.get<SpoolView[]>('/api/spools')).find((spool) => spool.id === id);
    if (!found) throw new Error(`no spool ${id}`);
    return found;
  }

  log(): Promise<LogEvent[]> {
    return this.get('/api/log?limit=500');
  }

  refusals(): Promise<RefusalView[]> {
    return this.get('/api/refusals');
  }

  strike(machineId: string, fault: FaultOrder): Promise<unknown> {
    return this.control('POST', `/control/machines/${machineId}/faults`, fault);
  }

  mend(machineId: string): Promise<unknown> {
    return this.control('DELETE', `/control/machines/${machineId}/faults`);
  }

  /** Switches a printer off as in a power cut, and on again. */
  power(machineId: string, on: boolean): Promise<unknown> {
    return this.control('PUT', `/control/machines/${machineId}/power`, { on });
  }

  /** The check plot that a printer has printed last, as somebody would photograph it. */
  async plotPhoto(machineId: string): Promise<Buffer> {
    const answer = await this.asked('GET', `/control/machines/${machineId}/check-plot.jpg`);
    return Buffer.from(await answer.arrayBuffer());
  }

  /** The hands and accidents of the world: the stand-ins' control surface. */
  private async control(method: string, path: string, body?: unknown): Promise<unknown> {
    return (await this.asked(method, path, body)).json();
  }

  private async asked(method: string, path: string, body?: unknown): Promise<Response> {
    const { port } = JSON.parse(await readFile(join(this.dataDir, 'stand-ins', 'address.json'), 'utf8')) as {
      port: number;
    };
    return fetch(`http://127.0.0.1:${String(port)}${path}`, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
  }
}
