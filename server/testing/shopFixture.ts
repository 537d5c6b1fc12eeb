import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { eq, sql } from 'drizzle-orm';
import { pino } from 'pino';
import type { CareOrder, CareReport, MachineRun, MachineState, RunReport } from '../../contract/machine/protocol.ts';
import { StoredClock, storeAnchor } from '../clock/shopClock.ts';
import { type OpenDb, openDb } from '../db/open.ts';
import { hotFolders } from '../db/tables/schema.ts';
import { printers } from '../db/tables/floorTables.ts';
import { SHOP } from '../demo/floorData.ts';
import { seedFloor, writeDevices } from '../demo/seedFloor.ts';
import { seedProfiles } from '../demo/seedProfiles.ts';
import type { StorageView } from '../../contract/api/storage.ts';
import { DataPaths } from '../files/paths.ts';
import { storageFault } from '../files/storageFault.ts';
import type { Storage } from '../ports/storage.ts';
import { LiveBus } from '../http/liveBus.ts';
import { readLimits } from '../limits.ts';
import { NO_RENDERINGS } from '../ports/runRenderings.ts';
import type { MachineLink, RunCommand } from '../ports/machineLink.ts';
import type { CutLine } from '../../core/contour/contourRule.ts';
import type { FileFacts } from '../render/facts.ts';
import { shopTaskHandlers } from '../usecases/shopTaskHandlers.ts';
import { ShopTaskList } from '../work/shopTaskList.ts';
import { TestWork } from './testWork.ts';
import { type Shop, newId } from '../shop.ts';
import { hostNames } from '../usecases/setup/shopSetup.ts';
import { admitJob } from '../usecases/arrival/admitJob.ts';
import { NO_NATURE } from '../usecases/ticket/ticketService.ts';

/** A printer that never answers by itself: tests say what it reports. */
export class SilentLink implements MachineLink {
  readonly sent: { machineId: string; runId: string; attempt: number; run: MachineRun }[] = [];
  readonly commands: RunCommand[] = [];
  /** When care begins, as it says. */
  startedMs = 1000;
  readonly cared: { careId: string; attempt: number; order: CareOrder }[] = [];
  readonly loaded: { readonly tag: string; readonly widthMm: number }[] = [];
  reportOf: (runId: string, attempt: number) => RunReport | undefined = () => undefined;

  send(machineId: string, runId: string, attempt: number, run: MachineRun): Promise<RunReport> {
    this.sent.push({ machineId, runId, attempt, run });
    return Promise.resolve(report(runId, attempt, {}));
  }
  report(_machineId: string, runId: string, attempt: number): Promise<RunReport | undefined> {
    return Promise.resolve(this.reportOf(runId, attempt));
  }
  command(_machineId: string, runId: string, attempt: number, command: RunCommand): Promise<RunReport> {
    this.commands.push(command);
    return Promise.resolve(report(runId, attempt, { status: command === 'cancel' ? 'cancelled' : 'paused' }));
  }
  care(_machineId: string, careId: string, attempt: number, order: CareOrder): Promise<CareReport> {
    this.cared.push({ careId, attempt, order });
    return Promise.resolve(careReport(careId, attempt, { startedMs: this.startedMs }));
  }
  careReport(): Promise<CareReport | undefined> {
    return Promise.resolve(undefined);
  }
  cancelCare(_machineId: string, careId: string, attempt: number): Promise<CareReport> {
    return Promise.resolve(careReport(careId, attempt, { status: 'cancelled' }));
  }
  machines(): Promise<[]> {
    return Promise.resolve([]);
  }
  about(): Promise<undefined> {
    return Promise.resolve(undefined);
  }
  state(machineId: string): Promise<MachineState> {
    return Promise.resolve(idle(machineId));
  }
  load(
    machineId: string,
    _sourceId: string,
    media: { readonly tag: string; readonly widthMm: number },
  ): Promise<MachineState> {
    this.loaded.push(media);
    return Promise.resolve(idle(machineId));
  }
  unload(machineId: string): Promise<MachineState> {
    return Promise.resolve(idle(machineId));
  }
  emptied(machineId: string): Promise<MachineState> {
    return Promise.resolve(idle(machineId));
  }
  watch(_machineId: string, _onState: (state: MachineState | undefined) => void): () => void {
    return () => undefined;
  }
  setClock(): Promise<void> {
    return Promise.resolve();
  }
}

export function idle(machineId: string): MachineState {
  return { machineId, seq: 1, atMs: 0, status: 'idle', reason: null, run: null };
}

export function report(runId: string, attempt: number, change: Partial<RunReport>): RunReport {
  return {
    runId,
    attempt,
    seq: 1,
    status: 'printing',
    phase: 'print',
    lengthMm: 0,
    fedMm: 0,
    msLeft: 1000,
    inkMl: {},
    reason: null,
    startedMs: 1000,
    endedMs: null,
    ...change,
  };
}

export function careReport(careId: string, attempt: number, change: Partial<CareReport>): CareReport {
  return {
    ...{ careId, attempt, seq: 1, status: 'caring', msLeft: 1000, fedMm: 0, inkMl: {}, reason: null },
    startedMs: 1000,
    endedMs: null,
    ...change,
  };
}

/** Disk and database that are well until a test says otherwise. */
export class TestStorage implements Storage {
  acceptsWork = true;
  readonly errors: unknown[] = [];
  view(): StorageView {
    const state = this.acceptsWork ? 'fine' : 'full';
    return {
      state,
      freeBytes: null,
      leastFreeBytes: 0,
      text: this.acceptsWork ? null : 'The disk is full.',
      remedy: null,
    };
  }
  noticed(error: unknown): boolean {
    const fault = storageFault(error) !== undefined;
    if (fault) this.errors.push(error);
    return fault;
  }
}

export interface TestShop extends Shop {
  readonly link: SilentLink;
  readonly storage: TestStorage;
  readonly work: TestWork;
}

/**
 * A whole shop without HTTP: real database, files and rendering, heavy work in this thread.
 * @param keptIn where it stays; left out: a temporary folder that goes with it
 */
export function openTestShop(keptIn?: string): { shop: TestShop; close: () => void } {
  const root = keptIn ?? mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  const paths = new DataPaths(root);
  paths.make();
  const limits = readLimits({});
  const { db, close } = openFloor(paths);
  const shop: TestShop = {
    db,
    paths,
    limits,
    clock: new StoredClock(db),
    currency: () => 'EUR',
    bus: new LiveBus(),
    work: new TestWork(root, limits),
    tasks: new ShopTaskList(db, () => shopTaskHandlers(shop), {
      newId: () => newId('task'),
      nowMs: () => Date.now(),
      isStorageFault: (error) => shop.storage.noticed(error),
      failed: () => undefined,
    }),
    link: new SilentLink(),
    renderings: NO_RENDERINGS,
    storage: new TestStorage(),
    log: pino({ level: 'silent' }),
    baseUrl: () => 'http://127.0.0.1:1',
    realNow: () => Date.now(),
    exposures: () => (hostNames(db).length > 0 ? ['Setup lists further names'] : []),
    wakeDispatcher: () => undefined,
  };
  return {
    shop,
    close: () => {
      close();
      if (keptIn === undefined) rmSync(root, { recursive: true, force: true });
    },
  };
}

/** A shop as it is after its first start, made once for all tests of a file: to migrate and to fill it takes its time. */
let template: Buffer | undefined;

function openFloor(paths: DataPaths): OpenDb {
  const migrations = resolve('server/db/migrations');
  if (existsSync(paths.database)) return openDb(paths.database, migrations);
  if (template) writeFileSync(paths.database, template);
  const opened = openDb(paths.database, migrations);
  if (template) {
    writeDevices(paths);
    for (const { id, queueId } of opened.db.select().from(hotFolders).all()) {
      const path = join(paths.hotFolders, queueId);
      mkdirSync(path, { recursive: true });
      opened.db.update(hotFolders).set({ path }).where(eq(hotFolders.id, id)).run();
    }
    const nowMs = Date.now();
    storeAnchor(opened.db, { realMs: nowMs, shopMs: nowMs, rate: SHOP.demoRate });
  } else {
    seedFloor(opened.db, paths, true);
    seedProfiles(opened.db, resolve('server/demo/profiles'));
    opened.db.run(sql`PRAGMA wal_checkpoint(TRUNCATE)`);
    template = readFileSync(paths.database);
  }
  return opened;
}

/** A job of plain rectangles, without a file behind it. */
export function admitPlain(
  shop: Shop,
  name: string,
  sizes: readonly (readonly [number, number])[],
  queueId = 'heron-banners',
  cutLines: readonly CutLine[] = [],
): string {
  const bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  const facts: FileFacts = {
    format: 'pdf',
    nature: NO_NATURE,
    pages: sizes.map(([widthMm, heightMm]) => ({
      widthMm,
      heightMm,
      bleed,
      coverage: { cyan: 0.2, black: 0.1 },
      dpi: null,
      thinnestMm: null,
      cutLines: [...cutLines],
    })),
  };
  const [id] = admitJob(
    shop,
    { claimId: newId('claim'), queueId, hotFolderId: null, sourceName: name },
    { sha256: 'a'.repeat(64), bytes: 10, facts },
  );
  return id ?? '';
}

/** Every printer answers and has nothing to do, as its device would say. */
export function switchOn(shop: TestShop): void {
  shop.db.update(printers).set({ linkStatus: 'idle', linkReason: null }).run();
}
