import { type FSWatcher, watch } from 'chokidar';
import { mkdir, readdir, rename, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Shop } from '../shop.ts';
import { newId } from '../shop.ts';
import { forgetArriving, showArriving } from '../usecases/showArriving.ts';
import { type Claim, type Intake, leftoverClaims } from './intake.ts';
import { type Wholeness, lookAt } from './wholeness.ts';

export interface HotFolderRow {
  readonly id: string;
  readonly queueId: string;
  readonly path: string;
}

interface Seen {
  size: number;
  mtimeMs: number;
  firstMs: number;
  changedMs: number;
  look: Wholeness | undefined;
  shownBytes: number;
}

/** Claims lie inside the hot folder itself, so that claiming is a rename on the same file system. */
const CLAIMED = '.taken';
const REFUSED = 'refused';
/** Looks at a folder with unsettled files so often, at a quiet one (and one without change notices) seldom. */
const BUSY_MS = 150;
const IDLE_MS = 1500;
/** A file that is not whole after so long is shown as arriving. */
const SHOW_AFTER_MS = 700;
const PARTIAL = /(\.part|\.partial|\.crdownload|\.tmp|\.filepart)$|^[.~]/i;

/** Watches one hot folder: waits until a file is whole, claims it by a rename, hands it to the intake. */
export class HotFolder {
  private readonly seen = new Map<string, Seen>();
  private timer: NodeJS.Timeout | undefined;
  private watcher: FSWatcher | undefined;
  /** 'again': something changed while the folder was being looked at. */
  private scanning: 'no' | 'yes' | 'again' = 'no';
  private closed = false;
  state: 'watched' | 'missing' = 'watched';

  constructor(
    private readonly shop: Shop,
    private readonly intake: Intake,
    readonly row: HotFolderRow,
    private readonly now: () => number = () => performance.now(),
  ) {}

  async open(): Promise<void> {
    await mkdir(this.row.path, { recursive: true });
    for (const left of await leftoverClaims(join(this.row.path, CLAIMED))) this.take(left.claimId, left.path);
    this.watcher = watch(this.row.path, {
      depth: 0,
      ignoreInitial: true,
      ignored: (path) => basename(path).startsWith('.'),
    });
    this.watcher.on('all', () => {
      this.wake(20);
    });
    this.watcher.on('error', (error) => {
      this.shop.log.warn({ err: error, folder: this.row.path }, 'change notices failed; looking by the clock');
    });
    this.wake(0);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.timer);
    await this.watcher?.close();
  }

  private wake(inMs: number): void {
    if (this.closed) return;
    if (this.scanning !== 'no') {
      this.scanning = 'again';
      return;
    }
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      void this.turn();
    }, inMs);
  }

  private async turn(): Promise<void> {
    this.scanning = 'yes';
    let unsettled = false;
    try {
      unsettled = await this.scan();
      this.setState('watched');
    } catch (error) {
      this.setState('missing');
      this.shop.log.warn({ err: error, folder: this.row.path }, 'hot folder cannot be read');
    }
    const soon = unsettled || this.changedMeanwhile();
    this.scanning = 'no';
    this.wake(soon ? BUSY_MS : IDLE_MS);
  }

  private changedMeanwhile(): boolean {
    return this.scanning === 'again';
  }

  private setState(state: 'watched' | 'missing'): void {
    if (this.state === state) return;
    this.state = state;
    this.shop.bus.committed([], [{ type: 'queue', id: this.row.queueId }]);
  }

  /** @returns whether something is there that is not settled yet */
  private async scan(): Promise<boolean> {
    const entries = await readdir(this.row.path, { withFileTypes: true });
    const names = entries.filter((entry) => entry.isFile() && !PARTIAL.test(entry.name)).map((entry) => entry.name);
    const there = new Set(names);
    for (const name of this.seen.keys()) if (!there.has(name)) this.seen.delete(name);
    forgetArriving(this.shop, this.row.id, new Set([...there, ...this.claimedNames]));
    let unsettled = false;
    for (const name of names) unsettled = (await this.consider(name)) || unsettled;
    return unsettled;
  }

  /** Names claimed and not decided yet: their arriving row stays until the intake replaces it. */
  private readonly claimedNames = new Set<string>();

  private async consider(name: string): Promise<boolean> {
    const path = join(this.row.path, name);
    const now = this.now();
    let facts: { size: number; mtimeMs: number };
    try {
      facts = await stat(path);
    } catch {
      return true;
    }
    const seen = this.seen.get(name);
    if (!seen || seen.size !== facts.size || seen.mtimeMs !== facts.mtimeMs) {
      this.seen.set(name, {
        size: facts.size,
        mtimeMs: facts.mtimeMs,
        firstMs: seen?.firstMs ?? now,
        changedMs: now,
        look: undefined,
        shownBytes: seen?.shownBytes ?? -1,
      });
      if (seen) this.show(name, now);
      return true;
    }
    const quiet = now - seen.changedMs;
    if (quiet < this.shop.limits.quietMs) return true;
    try {
      seen.look ??= await lookAt(path);
    } catch {
      return true;
    }
    if (quiet >= this.patience(seen.look)) {
      await this.claim(name, path);
      return false;
    }
    this.show(name, now);
    return true;
  }

  /** How long a file of this look must be quiet before it is taken, whole or not (the intake says what is wrong). */
  private patience(look: Wholeness): number {
    const { limits } = this.shop;
    switch (look.kind) {
      case 'whole':
        return limits.quietMs;
      case 'incomplete':
        return limits.incompleteMs;
      case 'empty':
      case 'unsupported':
        return limits.unknownMs;
    }
  }

  private show(name: string, now: number): void {
    const seen = this.seen.get(name);
    if (!seen || now - seen.firstMs < SHOW_AFTER_MS || seen.shownBytes === seen.size) return;
    seen.shownBytes = seen.size;
    showArriving(this.shop, {
      hotFolderId: this.row.id,
      queueId: this.row.queueId,
      sourceName: name,
      bytes: seen.size,
    });
  }

  private async claim(name: string, path: string): Promise<void> {
    const claimId = newId('claim');
    const dir = join(this.row.path, CLAIMED, claimId);
    await mkdir(dir, { recursive: true });
    try {
      await rename(path, join(dir, name));
    } catch (error) {
      // Somebody took it away in this moment, or still holds it: the next look decides.
      this.shop.log.warn({ err: error, file: name }, 'a file could not be claimed');
      return;
    }
    this.seen.delete(name);
    this.take(claimId, join(dir, name));
  }

  private take(claimId: string, path: string): void {
    const name = basename(path);
    this.claimedNames.add(name);
    const claim: Claim = {
      claimId,
      path,
      queueId: this.row.queueId,
      hotFolderId: this.row.id,
      sourceName: name,
      sideDir: join(this.row.path, REFUSED),
    };
    this.intake
      .accept(claim)
      .catch((error: unknown) => {
        this.shop.log.error({ err: error, file: name }, 'a claimed file waits for the next start');
      })
      .finally(() => this.claimedNames.delete(name));
  }
}
