import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, rm, stat, statfs, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import Database from 'better-sqlite3';
import type { SpoolDetail } from '../../contract/api/media/media.ts';
import type { StorageView } from '../../contract/api/storage.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

const MIB = 1024 ** 2;
const LIMIT = 6 * MIB;

/** A disk of its own, small enough to be filled. */
async function smallDisk(mb: number): Promise<{ dir: string; free: () => Promise<number>; gone: () => Promise<void> }> {
  const dir = await mkdtemp(join(tmpdir(), 'yellow-spool-disk-'));
  execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${String(mb)}m`, 'tmpfs', dir]);
  return {
    dir,
    free: async () => {
      const { bavail, bsize } = await statfs(dir);
      return bavail * bsize;
    },
    gone: async () => {
      execFileSync('umount', ['-l', dir]);
      await rm(dir, { recursive: true, force: true });
    },
  };
}

/** Writes until only so much is left, by a file that can be taken away again. */
async function fillUp(dir: string, free: () => Promise<number>, leftBytes: number): Promise<string> {
  const path = join(dir, `filler-${String(leftBytes)}`);
  await writeFile(path, Buffer.alloc(Math.max(0, (await free()) - leftBytes))).catch((error: unknown) => {
    // Filled to the last byte while the server writes, too: it may have taken the last ones.
    if (leftBytes > 0 || (error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
  });
  return path;
}

test.describe('a disk that fills up', () => {
  test.skip(process.getuid?.() !== 0, 'a small disk can be mounted by root only');

  test('it is said on every page before it is full, nothing new begins, the print is booked once, and all goes on by itself', async ({
    page,
  }) => {
    const disk = await smallDisk(96);
    const shop = await TestShop.open({
      dataDir: disk.dir,
      rate: 60,
      env: { YELLOW_SPOOL_LEAST_FREE_BYTES: String(LIMIT) },
    });
    try {
      const pdf = await pdfFile([{ widthMm: 600, heightMm: 1500 }]);
      const job = await shop.bringIn('bittern-photo', 'long.pdf', pdf);
      const next = await shop.bringIn('bittern-photo', 'next.pdf', pdf);
      const run = await shop.queueRun([job.id]);
      await shop.runIs(run.id, 'printing');
      const behind = await shop.queueRun([next.id]);
      await page.goto(`${shop.url}/shelf`);
      await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
      await expect(page.getByText('The disk of the data folder')).toBeHidden();

      const filler = await fillUp(disk.dir, disk.free, LIMIT - 2 * MIB);
      await expect(page.getByRole('alert')).toContainText('The disk of the data folder is full');
      await page.getByRole('link', { name: 'Floor', exact: true }).click();
      await expect(page.getByRole('alert')).toContainText('No new files are taken');
      await shop.drop('heron-banners', 'waits.pdf', await pdfFile([{ widthMm: 200, heightMm: 100 }]));
      const form = new FormData();
      form.append('queueId', 'heron-banners');
      form.append('files', new Blob([new Uint8Array(pdf)]), 'sent.pdf');
      const refused = await fetch(`${shop.url}/api/jobs`, { method: 'POST', body: form });
      expect([refused.status, await refused.json()]).toMatchObject([503, { error: { code: 'no-room' } }]);

      // To the last byte: what happens on the printer can't even be written down.
      const last = await fillUp(disk.dir, disk.free, 0);
      expect(await disk.free()).toBeLessThan(64 * 1024);
      await shop.setRate(600).catch(() => undefined);
      await page.waitForTimeout(4000);
      expect((await fetch(`${shop.url}/api/health`)).status).toBe(200);
      expect(await shop.leftIn('heron-banners')).toContain('waits.pdf');
      expect((await shop.run(behind.id)).state).toBe('queued');

      await rm(last);
      await rm(filler);
      await expect(page.getByRole('alert')).toBeHidden({ timeout: 20_000 });
      await shop.runIs(run.id, 'printed');
      await shop.runIs(behind.id, 'printed');
      await shop.until(async () => (await shop.jobs()).some(({ sourceName }) => sourceName === 'waits.pdf'));
      for (const id of [run.id, behind.id]) {
        const { attempt, needMm, spoolId } = await shop.run(id);
        const { ledger } = await shop.get<SpoolDetail>(`/api/spools/${spoolId ?? ''}`);
        const booked = ledger.filter(({ runId }) => runId === id);
        expect([attempt, booked.length]).toEqual([1, 1]);
        expect(-(booked[0]?.mm ?? 0)).toBeCloseTo(needMm, 3);
      }
    } finally {
      await shop.close().catch(() => undefined);
      await disk.gone();
    }
  });
});

test('a database that another program holds: it is said, the server lives, and what was printed meanwhile is booked once', async ({
  page,
}) => {
  const shop = await TestShop.open({ rate: 60 });
  try {
    const job = await shop.bringIn('bittern-photo', 'held.pdf', await pdfFile([{ widthMm: 600, heightMm: 800 }]));
    const run = await shop.queueRun([job.id]);
    await shop.runIs(run.id, 'printing');
    await page.goto(`${shop.url}/floor`);
    const other = new Database(join(shop.dataDir, 'yellow-spool.db'));
    other.exec('BEGIN IMMEDIATE');
    try {
      await expect(page.getByRole('alert')).toContainText('Another program holds the database', { timeout: 30_000 });
      // Reading goes on; what would change something is refused with the reason, and nothing is changed.
      expect((await fetch(`${shop.url}/api/health`)).status).toBe(200);
      const change = await fetch(`${shop.url}/api/jobs/${job.id}`, {
        method: 'PATCH',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ customer: 'Dune Radio' }),
      });
      expect([change.status, await change.json()]).toMatchObject([503, { error: { code: 'storage-locked' } }]);
      await page.waitForTimeout(6000);
    } finally {
      other.exec('ROLLBACK');
      other.close();
    }
    await expect(page.getByRole('alert')).toBeHidden({ timeout: 20_000 });
    await shop.runIs(run.id, 'printed', 60_000);
    const { spoolId } = await shop.run(run.id);
    const { ledger } = await shop.get<SpoolDetail>(`/api/spools/${spoolId ?? ''}`);
    expect(ledger.filter(({ runId }) => runId === run.id)).toHaveLength(1);
    expect((await shop.job('held.pdf')).customer).toBeNull();
  } finally {
    await shop.close();
  }
});

test('the view of the storage is what the disk says', async () => {
  const shop = await TestShop.open();
  try {
    const { bavail, bsize } = await statfs(shop.dataDir);
    await shop.until(async () => (await shop.get<StorageView>('/api/storage')).freeBytes !== null);
    const view = await shop.get<StorageView>('/api/storage');
    expect(view.state).toBe('fine');
    expect(Math.abs((view.freeBytes ?? 0) - bavail * bsize)).toBeLessThan(2 * 1024 * MIB);
    expect(existsSync(join(shop.dataDir, 'temporary', 'trial.part'))).toBe(false);
    expect((await stat(join(shop.dataDir, 'server.lock'))).isFile()).toBe(true);
  } finally {
    await shop.close();
  }
});

test('a server that starts while another program holds the database says so and ends, and starts when that is over', async () => {
  const shop = await TestShop.open();
  try {
    await shop.stop();
    const other = new Database(join(shop.dataDir, 'yellow-spool.db'));
    other.exec('BEGIN EXCLUSIVE');
    other.pragma('locking_mode = EXCLUSIVE');
    await expect(shop.start()).rejects.toThrow('the server ended at once, with 1');
    other.exec('ROLLBACK');
    other.close();
    await shop.start();
    expect((await fetch(`${shop.url}/api/health`)).status).toBe(200);
  } finally {
    await shop.close();
  }
});
