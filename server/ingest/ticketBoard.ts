import type { TicketPart } from '../../core/ticket/ticket.ts';
import type { TicketRow } from './readTicketFile.ts';

/** What came of a row: the file it names gets these values, or is put aside with this reason. */
export type RowSays = { readonly values: TicketPart } | { readonly problem: string };

interface Waiting {
  readonly row: TicketRow;
  readonly sinceMs: number;
}

interface Board {
  readonly waiting: Map<string, Waiting>;
  readonly problems: string[];
}

/** Tickets that lie in a hot folder, row by row, until the files that they name are there. */
export class TicketBoard {
  private readonly boards = new Map<string, Board>();

  /** Takes a ticket in. A row without a file name means the file that is called like the ticket. */
  add(ticketPath: string, rows: readonly TicketRow[], nowMs: number): void {
    const board: Board = { waiting: new Map(), problems: [] };
    for (const row of rows) {
      const key = row.file === undefined ? stemKey(ticketPath) : fileKey(folderOf(ticketPath), row.file);
      if (board.waiting.has(key)) {
        board.problems.push(
          `Row ${String(row.row)}: ${row.file ?? 'the same file'} is named twice; the first row counts.`,
        );
        continue;
      }
      board.waiting.set(key, { row, sinceMs: nowMs });
      if (row.problems.length > 0) board.problems.push(problemText(row));
    }
    this.boards.set(ticketPath, board);
  }

  has(ticketPath: string): boolean {
    return this.boards.has(ticketPath);
  }

  forget(ticketPath: string): void {
    this.boards.delete(ticketPath);
  }

  /** What a ticket says about a file. */
  saysOf(filePath: string): RowSays | undefined {
    const row = this.find(filePath)?.row;
    return row && (row.problems.length > 0 ? { problem: problemText(row) } : { values: row.values });
  }

  /** What a ticket says about a file that is being taken; the row is then used up. */
  take(filePath: string): RowSays | undefined {
    const says = this.saysOf(filePath);
    const found = this.find(filePath);
    found?.board.waiting.delete(found.key);
    return says;
  }

  private find(filePath: string): { readonly board: Board; readonly key: string; readonly row: TicketRow } | undefined {
    for (const board of this.boards.values()) {
      for (const key of [fileKey(folderOf(filePath), filePath), stemKey(filePath)]) {
        const found = board.waiting.get(key);
        if (found) return { board, key, row: found.row };
      }
    }
    return undefined;
  }

  /** Rows that have waited so long for their file, with the name they wait for. */
  late(ticketPath: string, nowMs: number, afterMs: number): { key: string; row: TicketRow }[] {
    const board = this.boards.get(ticketPath);
    return [...(board?.waiting ?? [])].flatMap(([key, { row, sinceMs }]) =>
      nowMs - sinceMs >= afterMs ? [{ key, row }] : [],
    );
  }

  settle(ticketPath: string, key: string, problem?: string): void {
    const board = this.boards.get(ticketPath);
    board?.waiting.delete(key);
    if (problem !== undefined) board?.problems.push(problem);
  }

  /** All rows are used up: what was wrong with some of them. */
  finished(ticketPath: string): readonly string[] | undefined {
    const board = this.boards.get(ticketPath);
    return board?.waiting.size === 0 ? board.problems : undefined;
  }
}

/** What is wrong with a row of a ticket file, as its reason is written beside it. */
export function problemText(row: TicketRow): string {
  const what = row.problems.map(({ field, got, why }) => `${field} “${got}”: ${why}`).join('; ');
  return `Row ${String(row.row)}${row.file === undefined ? '' : ` (${row.file})`}: ${what}`;
}

function folderOf(path: string): string {
  return path.includes('/') ? path.slice(0, path.lastIndexOf('/')) : '';
}

function nameIn(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

function fileKey(folder: string, name: string): string {
  return `${folder}/${nameIn(name)}`.normalize('NFC').toLowerCase();
}

/** The file that a ticket is called like, whatever its ending. */
export function stemKey(path: string): string {
  return `${folderOf(path)}/${nameIn(path).replace(/\.[^.]+$/, '')}/*`.normalize('NFC').toLowerCase();
}
