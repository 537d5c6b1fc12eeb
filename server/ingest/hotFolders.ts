import { hotFolders } from '../db/tables/schema.ts';
import type { Shop } from '../shop.ts';
import { HotFolder } from './hotFolder.ts';
import type { Intake } from './intake.ts';

/** All hot folders of the shop, watched as they are described; a change of the description is a new watch. */
export class HotFolders {
  private readonly watched = new Map<string, HotFolder>();
  private turn: Promise<void> = Promise.resolve();

  constructor(
    private readonly shop: Shop,
    private readonly intake: Intake,
  ) {}

  stateOf(id: string): HotFolder['state'] {
    return this.watched.get(id)?.state ?? 'missing';
  }

  /** Brings the watches in line with the database; changes that come close together wait for each other. */
  follow(): Promise<void> {
    this.turn = this.turn.then(() => this.bringInLine());
    return this.turn;
  }

  private async bringInLine(): Promise<void> {
    const rows = new Map(
      this.shop.db
        .select()
        .from(hotFolders)
        .all()
        .map((row) => [row.id, row]),
    );
    for (const [id, folder] of this.watched) {
      const row = rows.get(id);
      if (row && describes(row) === describes(folder.row)) continue;
      await folder.close();
      this.watched.delete(id);
    }
    for (const [id, row] of rows) {
      if (this.watched.has(id)) continue;
      const folder = new HotFolder(this.shop, this.intake, row);
      this.watched.set(id, folder);
      await folder.open();
    }
  }

  async close(): Promise<void> {
    await this.turn;
    for (const folder of this.watched.values()) await folder.close();
  }
}

/** What a watch depends on; counters are not among it. */
function describes(row: typeof hotFolders.$inferSelect): string {
  const { queueId, path, presetId, arrivalRule, namePattern, subfolders, afterwards, paused } = row;
  return JSON.stringify([queueId, path, presetId, arrivalRule, namePattern, subfolders, afterwards, paused]);
}
