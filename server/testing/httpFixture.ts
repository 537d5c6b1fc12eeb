import { mkdirSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { Dispatcher } from '../devices/dispatcher.ts';
import { allRoutes } from '../http/allRoutes.ts';
import { createApp } from '../http/app.ts';
import type { Route } from '../http/route.ts';
import { liveSource } from '../http/routes/floorRoutes.ts';
import { HotFolders } from '../ingest/hotFolders.ts';
import { Intake } from '../ingest/intake.ts';
import type { Mail } from '../ports/mailer.ts';
import { answerCheck } from './answerCheck.ts';
import { type TestShop, openTestShop } from './shopFixture.ts';

/** A whole shop behind its API, on a port of its own; each answer is compared with its schema. */
export interface TestHttp {
  readonly shop: TestShop;
  readonly server: Server;
  readonly base: string;
  readonly routes: readonly Route[];
  readonly folders: HotFolders;
  /** What was sent. */
  readonly mails: readonly Mail[];
  /** Whether it says that it is ready. */
  ready: boolean;
  /** Routes whose answer no request has brought yet, or only as an empty list. */
  readonly unseen: () => string[];
  readonly call: <T = unknown>(method: string, path: string, body?: unknown) => Promise<Answered<T>>;
  readonly upload: (
    queueId: string,
    ...files: readonly (readonly [string, Uint8Array | string])[]
  ) => Promise<Answered<unknown>>;
  readonly close: () => Promise<void>;
}

export interface Answered<T> {
  readonly status: number;
  readonly body: T;
}

export async function openTestHttp(): Promise<TestHttp> {
  const opened = openTestShop();
  const { shop } = opened;
  const intake = new Intake(shop);
  const folders = new HotFolders(shop, intake);
  const web = join(shop.paths.root, 'web');
  mkdirSync(join(web, 'assets'), { recursive: true });
  writeFileSync(join(web, 'index.html'), '<!doctype html><title>the page</title>');
  const state = { ready: false };
  const mails: Mail[] = [];
  const crewToken = 'the-token-of-the-crew-in-tests';
  const routes = allRoutes(shop, {
    intake,
    folders,
    dispatcher: new Dispatcher(shop),
    isReady: () => state.ready,
    publicOrigin: undefined,
    crewToken,
    outgoing: {
      mailer: { send: (_server, mail) => Promise.resolve(void mails.push(mail)) },
      pages: 'https://shop.example',
    },
    mailUrl: () => null,
  });
  const { check, unseen } = answerCheck(routes);
  shop.bus.connect(liveSource(shop, folders));
  const face = {
    ports: () => [(server.address() as AddressInfo).port],
    names: () => [],
    ...{ publicOrigin: undefined, trustedHops: 0, onlyTls: false, crewToken },
  };
  const app = createApp(shop, routes, web, face, {
    onAnswer: check,
    // However slow the machine is: what a test waits for is the answer, not its task.
    inTimeMs: 2 ** 31 - 1,
  });
  const server: Server = app.listen(0, '127.0.0.1');
  await new Promise((done) => server.once('listening', done));
  const base = `http://127.0.0.1:${String((server.address() as AddressInfo).port)}`;
  const answered = async <T>(answer: Response): Promise<Answered<T>> => ({
    status: answer.status,
    body: (await answer.json()) as T,
  });
  return Object.assign(state, {
    shop,
    server,
    base,
    routes,
    folders,
    mails,
    unseen,
    call: async <T = unknown>(method: string, path: string, body?: unknown): Promise<Answered<T>> =>
      answered<T>(
        await fetch(base + path, {
          method,
          ...(body === undefined
            ? {}
            : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
        }),
      ),
    upload: async (queueId: string, ...files: readonly (readonly [string, Uint8Array | string])[]) => {
      const form = new FormData();
      form.append('queueId', queueId);
      for (const [name, bytes] of files) form.append('files', new Blob([bytes as BlobPart]), name);
      return answered(await fetch(`${base}/api/jobs`, { method: 'POST', body: form }));
    },
    close: async () => {
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      await folders.close();
      opened.close();
    },
  });
}
