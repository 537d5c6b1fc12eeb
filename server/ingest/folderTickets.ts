import { renameSync } from 'node:fs';
import { mkdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { hotFolders } from '../db/tables/schema.ts';
import { writeWhole } from '../files/atomic.ts';
import { type Shop, newId } from '../shop.ts';
import { lateTicket } from '../usecases/arrival/applyLateTicket.ts';
import { refuseFile } from '../usecases/arrival/refuseFile.ts';
import { rowContext } from '../usecases/arrival/rowContext.ts';
import { DONE, REFUSED } from '../files/folderFiles.ts';
import { REASON_ENDING, freePath } from './intake.ts';
import { TICKET_ENDING, readTicketFile, ticketText } from './readTicketFile.ts';
import { type RowSays, TicketBoard, stemKey } from './ticketBoard.ts';

/** A row whose file is not there is tried on a job that came before it after so many unknown-file times. */
const GRACE = 2;
/** So long a broken ticket holds up the files that it was about. */
const HELD_MS = 3_600_000;

interface BrokenTicket {
  /** What a file is told that it holds up. */
  readonly problem: string;
  /** All that it says, to find the names of files in it. */
  readonly text: string;
  readonly untilMs: number;
}

/** The tickets of one hot folder: read when they are whole, put away when all their rows are used up. */
export class FolderTickets {
  private readonly board = new TicketBoard();
  private readonly known = new Set<string>();
  /** Tickets that can't be used, by their names: what they were about must not print without them. */
  private readonly broken = new Map<string, BrokenTicket>();

  constructor(
    private readonly shop: Shop,
    private readonly row: typeof hotFolders.$inferSelect,
    private readonly now: () => number,
  ) {}

  has(name: string): boolean {
    return this.board.has(name);
  }

  /** What the tickets say of a file. Its row is used up only by `used`: the file may yet turn out to be held by somebody. */
  saysOf(fileName: string): RowSays | undefined {
    const broken = this.brokenOf(fileName);
    return broken ? { problem: broken[1].problem } : this.board.saysOf(fileName);
  }

  used(fileName: string): void {
    const broken = this.brokenOf(fileName);
    // Those that it names besides still wait; one that was called like it has been told, and passes by itself the next time.
    if (broken && stemKey(broken[0]) === stemKey(fileName)) this.broken.delete(broken[0]);
    this.board.take(fileName);
  }

  /** A broken ticket that a file is called like, or that speaks of it. */
  private brokenOf(fileName: string): readonly [ticket: string, BrokenTicket] | undefined {
    const named = basename(fileName).normalize('NFC').toLowerCase();
    return [...this.broken].find(
      ([ticket, { text, untilMs }]) =>
        untilMs > this.now() && (stemKey(ticket) === stemKey(fileName) || text.includes(named)),
    );
  }

  /** Whether a ticket lies there that has not been read yet and may be this file's: one that is called like it, or any list. */
  mayYetSayOf(fileName: string, there: ReadonlySet<string>): boolean {
    return [...there].some(
      (name) =>
        TICKET_ENDING.test(name) &&
        !this.board.has(name) &&
        (/\.csv$/i.test(name) || stemKey(name) === stemKey(fileName)),
    );
  }

  keepOnly(there: ReadonlySet<string>): void {
    for (const name of this.known) {
      if (there.has(name)) continue;
      this.board.forget(name);
      this.known.delete(name);
    }
  }

  /** Reads a ticket that is whole. One that is too long, or that can't be read, is put aside: nothing behind it is held up. */
  async read(name: string): Promise<void> {
    const { ticketBytes } = this.shop.limits;
    let bytes: Buffer;
    try {
      const { size } = await stat(join(this.row.path, name));
      if (size > ticketBytes) {
        await this.refuse(name, `The ticket has ${String(size)} bytes; ${String(ticketBytes)} is the limit.`);
        return;
      }
      bytes = await readFile(join(this.row.path, name));
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code === 'ENOENT') return;
      const why = code === 'EACCES' || code === 'EPERM' ? 'the server may not read it' : (code ?? 'it is damaged');
      await this.refuse(name, `The ticket can't be read: ${why}.`);
      return;
    }
    const ticket = readTicketFile(name, bytes, rowContext(this.shop, this.row.queueId), this.shop.limits);
    if (!ticket.ok) {
      await this.refuse(name, ticket.reason, bytes);
      return;
    }
    this.broken.delete(name);
    this.known.add(name);
    this.board.add(name, ticket.rows, this.now());
  }

  /** Puts a ticket aside that can't be used, and holds up for a while what it was about. */
  private async refuse(name: string, reason: string, bytes: Uint8Array = new Uint8Array()): Promise<void> {
    const now = this.now();
    for (const [ticket, { untilMs }] of this.broken) if (untilMs <= now) this.broken.delete(ticket);
    const text = ticketText(bytes).normalize('NFC').toLowerCase();
    const problem = `Its ticket ${basename(name)} can't be used: ${reason} Bring the file in again with the mended ticket, or by itself.`;
    this.broken.set(name, { problem, text, untilMs: now + HELD_MS });
    await this.putAside(name, [reason]);
  }

  /** Rows whose file came before them are laid on its job; rows whose file never comes are reported. */
  async settle(name: string, there: ReadonlySet<string>): Promise<void> {
    if (!this.board.has(name)) return;
    const { limits } = this.shop;
    const present = [...there]
      .map((path) => path.normalize('NFC').toLowerCase())
      .filter((path) => !TICKET_ENDING.test(path));
    // A row without a file name waits for the file that is called like its ticket, whatever its ending.
    const isThere = (key: string): boolean => {
      const waitsFor = key.replace(/^\//, '');
      return waitsFor.endsWith('/*')
        ? present.some((path) => path.replace(/\.[^./]+$/, '') === waitsFor.slice(0, -2))
        : present.includes(waitsFor);
    };
    for (const { key, row } of this.board.late(name, this.now(), limits.unknownMs * GRACE)) {
      if (isThere(key)) continue;
      const stem = basename(name).replace(/\.[^.]+$/, '');
      if (row.problems.length === 0 && lateTicket(this.shop, this.row.id, row.file ?? stem, row.values)) {
        this.board.settle(name, key);
      }
    }
    for (const { key, row } of this.board.late(name, this.now(), limits.incompleteMs)) {
      // It lies there, and somebody holds it still: its row waits with it.
      if (isThere(key)) continue;
      const what = row.file ?? 'the file called like the ticket';
      this.board.settle(name, key, `Row ${String(row.row)}: ${what} never came.`);
    }
    const problems = this.board.finished(name);
    if (!problems) return;
    this.board.forget(name);
    this.known.delete(name);
    if (problems.length > 0) await this.putAside(name, problems);
    else await this.putAway(name);
  }

  private async putAway(name: string): Promise<void> {
    const path = join(this.row.path, name);
    if (this.row.afterwards === 'removed') {
      await rm(path, { force: true });
      return;
    }
    const dir = join(this.row.path, DONE);
    await mkdir(dir, { recursive: true });
    await rename(path, await freePath(dir, basename(name)));
  }

  private async putAside(name: string, problems: readonly string[]): Promise<void> {
    const dir = join(this.row.path, REFUSED);
    await mkdir(dir, { recursive: true });
    const sidePath = await freePath(dir, basename(name));
    const first = problems[0] ?? '';
    const more =
      problems.length > 1 ? ` And ${String(problems.length - 1)} more; the file beside it names them all.` : '';
    await writeWhole(`${sidePath}${REASON_ENDING}`, `${basename(name)}\n${problems.join('\n')}\n`);
    const { id: hotFolderId, queueId } = this.row;
    const arrival = { claimId: newId('claim'), queueId, hotFolderId, sourceName: basename(name) };
    refuseFile(this.shop, arrival, `${first}${more}`, sidePath);
    // At once: a ticket that is mended and saved again as soon as its refusal is seen must not be moved in its place.
    renameSync(join(this.row.path, name), sidePath);
  }
}
