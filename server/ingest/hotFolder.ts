import { type FSWatcher, watch } from 'chokidar';
import { mkdir, rename, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { HotFolderView } from '../../contract/api/ticket.ts';
import type { NameContext } from '../../core/ticket/namePattern.ts';
import type { hotFolders } from '../db/tables/schema.ts';
import { writeWhole } from '../files/atomic.ts';
import { type Shop, newId } from '../shop.ts';
import { forgetArriving, showArriving } from '../usecases/arrival/recordArriving.ts';
import { CLAIMED, DEPTH, DONE, REFUSED, listFiles } from '../files/folderFiles.ts';
import { FolderTickets } from './folderTickets.ts';
import { type Claim, type Intake, SAID, leftoverClaims } from './intake.ts';
import { nameSays } from './nameSays.ts';
import { TICKET_ENDING } from './readTicketFile.ts';
import { type Completeness, inspectFile } from '../render/completeness.ts';

export type HotFolderRow = typeof hotFolders.$inferSelect;

interface Seen {
  size: number;
  mtimeMs: number;
  firstMs: number;
  changedMs: number;
  look: Completeness | undefined;
  shownBytes: number;
  /** Somebody still held it when it was to be taken: not tried again before then. */
  notBeforeMs: number;
}

/** Looks at a folder with unsettled files so often, at a quiet one (and one without change notices) seldom. */
const BUSY_MS = 150;
const IDLE_MS = 1500;
/** A file that somebody else holds is tried again after so long. */
const HELD_MS = 3000;
/** A file that is not whole after so long is shown as arriving. */
const SHOW_AFTER_MS = 700;

/** Watches one hot folder: waits until a file is whole, claims it by a rename, hands it to the intake. */
export class HotFolder {
  private readonly seen = new Map<string, Seen>();
  private readonly tickets: FolderTickets;
  private timer: NodeJS.Timeout | undefined;
  private watcher: FSWatcher | undefined;
  /** 'again': something changed while the folder was being looked at. */
  private scanning: 'no' | 'yes' | 'again' = 'no';
  private closed = false;
  /** Claims that the intake has; others in the folder of claims were left by a crash or while the folder was away. */
  private readonly inHand = new Set<string>();
  private swept = false;
  /** A claim that could not be brought in is not tried again before then. */
  private sweepAgainMs = 0;
  state: HotFolderView['state'];

  constructor(
    private readonly shop: Shop,
    private readonly intake: Intake,
    readonly row: HotFolderRow,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.state = row.paused ? 'paused' : 'watched';
    this.tickets = new FolderTickets(shop, row, now);
  }

  async open(): Promise<void> {
    // Elsewhere only the folder itself is made: a share that is not mounted must not be built up on the local disk.
    const ours = this.row.path.startsWith(this.shop.paths.root);
    await mkdir(this.row.path, { recursive: ours }).catch(() => undefined);
    if (this.row.paused) return;
    this.watcher = watch(this.row.path, {
      depth: DEPTH[this.row.subfolders],
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
    // Where nothing can be written down nothing is taken: files lie safe where they are.
    if (!this.shop.storage.acceptsWork) {
      this.swept = false;
      this.scanning = 'no';
      this.wake(IDLE_MS);
      return;
    }
    try {
      await this.sweep();
      unsettled = await this.scan();
      this.setState('watched');
    } catch (error) {
      this.swept = false;
      if (this.shop.storage.noticed(error)) {
        this.scanning = 'no';
        this.wake(IDLE_MS);
        return;
      }
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

  private setState(state: HotFolderView['state']): void {
    if (this.state === state) return;
    this.state = state;
    this.shop.bus.committed([], [{ type: 'queue', id: this.row.queueId }]);
  }

  /** Once after a start, and once after each return of the folder: claims that nobody has in hand. */
  private async sweep(): Promise<void> {
    if (this.swept || this.now() < this.sweepAgainMs) return;
    for (const left of await leftoverClaims(join(this.row.path, CLAIMED))) {
      if (!this.inHand.has(left.claimId)) this.take(left.claimId, left.path, left.said);
    }
    this.swept = true;
  }

  /** @returns whether something is there that is not settled yet */
  private async scan(): Promise<boolean> {
    const names = await listFiles(this.row.path, DEPTH[this.row.subfolders]);
    const there = new Set(names);
    for (const name of this.seen.keys()) if (!there.has(name)) this.seen.delete(name);
    this.tickets.keepOnly(there);
    forgetArriving(this.shop, this.row.id, new Set([...names.map((name) => basename(name)), ...this.claimedNames]));
    let unsettled = false;
    // Tickets first: what they say must be known when the file beside them is taken.
    const tickets = names.filter((name) => TICKET_ENDING.test(name));
    for (const name of tickets) unsettled = (await this.each(name, () => this.considerTicket(name))) || unsettled;
    for (const name of names) {
      if (!TICKET_ENDING.test(name)) unsettled = (await this.each(name, () => this.consider(name, there))) || unsettled;
    }
    for (const name of tickets) await this.each(name, async () => (await this.tickets.settle(name, there), false));
    return unsettled;
  }

  /** One file that makes trouble must not hold up those behind it. @returns whether it is not settled yet */
  private async each(name: string, consider: () => Promise<boolean>): Promise<boolean> {
    try {
      return await consider();
    } catch (error) {
      if (this.shop.storage.noticed(error)) throw error;
      const seen = this.seen.get(name);
      if (seen) seen.notBeforeMs = this.now() + HELD_MS;
      this.shop.log.warn({ err: error, file: name, folder: this.row.path }, 'a file in a hot folder makes trouble');
      return false;
    }
  }

  /** Names claimed and not decided yet: their arriving row stays until the intake replaces it. */
  private readonly claimedNames = new Set<string>();

  /** @returns how long a file has been quiet, undefined where it was still moving or is gone */
  private async quietOf(name: string): Promise<number | undefined> {
    const now = this.now();
    let facts: { size: number; mtimeMs: number };
    try {
      facts = await stat(join(this.row.path, name));
    } catch {
      return undefined;
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
        notBeforeMs: seen?.notBeforeMs ?? 0,
      });
      if (seen) this.show(name, now);
      return undefined;
    }
    const quiet = now - seen.changedMs;
    return quiet < this.shop.limits.quietMs ? undefined : quiet;
  }

  private async considerTicket(name: string): Promise<boolean> {
    const quiet = await this.quietOf(name);
    if (quiet === undefined) return true;
    if (!this.tickets.has(name)) await this.tickets.read(name);
    return false;
  }

  private async consider(name: string, there: ReadonlySet<string>): Promise<boolean> {
    const path = join(this.row.path, name);
    const quiet = await this.quietOf(name);
    const seen = this.seen.get(name);
    if (quiet === undefined || !seen) return true;
    if (this.now() < seen.notBeforeMs) return false;
    try {
      seen.look ??= await inspectFile(path);
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      // A right may come late, too; after that somebody must be told, or it would lie there for ever.
      if ((code === 'EACCES' || code === 'EPERM') && quiet >= this.shop.limits.incompleteMs) {
        await this.claim(
          name,
          path,
          'The server may not read this file. Give it the right to, and bring the file in again.',
        );
        return false;
      }
      return true;
    }
    // What is said of it may stand in a ticket that is still being written; one that grows for ever holds up nobody for ever.
    if (quiet < this.shop.limits.incompleteMs && this.tickets.mayYetSayOf(name, there)) return true;
    if (quiet >= this.patience(seen.look)) {
      await this.claim(name, path);
      return false;
    }
    this.show(name, this.now());
    return true;
  }

  /** How long a file of this look must be quiet before it is taken, whole or not (the intake says what is wrong). */
  private patience(look: Completeness): number {
    const { limits } = this.shop;
    switch (look.kind) {
      case 'whole':
        return limits.quietMs;
      case 'incomplete':
      case 'doubtful':
      case 'empty':
        // Some programs make a file first and write it minutes later.
        return limits.incompleteMs;
      case 'unsupported':
        return limits.unknownMs;
    }
  }

  private show(name: string, now: number): void {
    const seen = this.seen.get(name);
    if (!seen || TICKET_ENDING.test(name) || now - seen.firstMs < SHOW_AFTER_MS || seen.shownBytes === seen.size)
      return;
    seen.shownBytes = seen.size;
    showArriving(this.shop, {
      hotFolderId: this.row.id,
      queueId: this.row.queueId,
      sourceName: basename(name),
      bytes: seen.size,
    });
  }

  /** @param unread why it can't be brought in, whatever is said of it */
  private async claim(name: string, path: string, unread?: string): Promise<void> {
    const claimId = newId('claim');
    const dir = join(this.row.path, CLAIMED, claimId);
    await mkdir(dir, { recursive: true });
    const says = this.tickets.saysOf(name);
    const named = nameSays(this.row, name, this.nameContext());
    const problem = unread ?? (says && 'problem' in says ? says.problem : named.problem);
    const said = {
      fileName: named.values,
      ...(says && 'values' in says ? { ticketFile: says.values } : {}),
      ...(problem === undefined ? {} : { problem }),
    };
    // What name and ticket say is written down before the file is taken: a crash in between loses neither.
    await writeWhole(join(dir, SAID), JSON.stringify(said));
    try {
      await rename(path, join(dir, basename(name)));
    } catch (error) {
      // Somebody took it away in this moment, or still holds it: a later look decides, and nothing is left behind till then.
      await rm(dir, { recursive: true, force: true });
      const seen = this.seen.get(name);
      if (seen) seen.notBeforeMs = this.now() + HELD_MS;
      this.shop.log.warn({ err: error, file: name }, 'a file could not be claimed');
      return;
    }
    this.tickets.used(name);
    this.seen.delete(name);
    this.take(claimId, join(dir, basename(name)), said);
  }

  private nameContext(): NameContext {
    return { zone: this.shop.clock.zone, dayEndsAt: this.shop.clock.dayEndsAt, unit: 'mm' };
  }

  private take(claimId: string, path: string, said: Pick<Claim, 'fileName' | 'ticketFile' | 'problem'>): void {
    const name = basename(path);
    this.claimedNames.add(name);
    this.inHand.add(claimId);
    const { queueId, id, presetId, arrivalRule } = this.row;
    this.intake
      .accept({
        claimId,
        path,
        queueId,
        hotFolderId: id,
        sourceName: name,
        presetId,
        arrivalRule,
        ...said,
        sideDir: join(this.row.path, REFUSED),
        doneDir: this.row.afterwards === 'kept in done' ? join(this.row.path, DONE) : null,
      })
      .catch((error: unknown) => {
        // It lies in the folder of claims; the next sweep finds it there.
        this.swept = false;
        this.sweepAgainMs = this.now() + HELD_MS;
        if (!this.shop.storage.noticed(error)) {
          this.shop.log.error({ err: error, file: name }, 'a claimed file waits until it is tried again');
        }
      })
      .finally(() => {
        this.claimedNames.delete(name);
        this.inHand.delete(claimId);
      });
  }
}
