import { randomInt } from 'node:crypto';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import type { QueueView } from '../contract/api/ticket.ts';
import { seededRandom } from '../core/random.ts';
import { Crew, type Reach, type SeenNozzles } from './crew.ts';
import { layWork } from './newWork.ts';

/** A look around takes a few requests; at the fastest clock a shop minute is a twentieth of a second. */
const LOOK_MS = 400;
/** A shop that does not answer for so long is closed. */
const GIVE_UP_MS = 20_000;
const ANSWER_MS = 10_000;

const { values } = parseArgs({
  options: {
    shop: { type: 'string' },
    printers: { type: 'string' },
    spare: { type: 'string' },
    seed: { type: 'string' },
  },
});
const { shop = '', printers = '', spare = '' } = values;
const random = seededRandom(Number(values.seed ?? randomInt(1, 1e6)));

/** The shop lets in who has its token; the printers ask for none. */
const token = process.env.YELLOW_SPOOL_TOKEN;

async function ask(base: string, method: string, path: string, body?: unknown): Promise<Response> {
  return fetch(base + path, {
    method,
    signal: AbortSignal.timeout(ANSWER_MS),
    headers: {
      ...(base === shop && token !== undefined ? { authorization: `Bearer ${token}` } : {}),
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
}

async function get<T>(path: string): Promise<T> {
  const answer = await ask(shop, 'GET', path);
  if (!answer.ok) throw new Error(`${path}: ${String(answer.status)}`);
  return (await answer.json()) as T;
}

const reach: Reach = {
  get,
  send: async (method, path, body) => (await ask(shop, method, path, body)).status,
  fill: async (printerId, inkMl) => {
    await ask(printers, 'PUT', `/control/machines/${printerId}/ink`, { inkMl });
  },
  service: async (printerId) => {
    await ask(printers, 'POST', `/control/machines/${printerId}/clean`);
  },
  plotOf: async (printerId) => {
    const answer = await ask(printers, 'GET', `/control/machines/${printerId}/check-plot`);
    return answer.ok ? ((await answer.json()) as Record<string, SeenNozzles>) : null;
  },
  bringWork: async (no) => {
    await layWork(await get<QueueView[]>('/api/queues'), no, join(spare, 'crew'), random);
  },
};

const crew = new Crew(reach, random);
const parent = process.ppid;
let answeredAt = performance.now();
for (;;) {
  // When the server is killed outright nobody tells this process; it must not outlive its shop.
  if (process.ppid !== parent || performance.now() - answeredAt > GIVE_UP_MS) break;
  try {
    await crew.look();
    answeredAt = performance.now();
  } catch (error) {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  }
  await new Promise((done) => setTimeout(done, LOOK_MS));
}
