import { expect, test } from '@playwright/test';
import type { CareItemView, RotaView, TimerView } from '../../contract/api/care.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

const HOUR = 3_600_000;

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 60 });
});
test.afterEach(async () => {
  await shop.close();
});

const rota = async (printerId: string): Promise<RotaView['printers'][number]['items']> =>
  (await shop.get<RotaView>('/api/rota')).printers.find((each) => each.printerId === printerId)?.items ?? [];

test('a purge is designed, copied to another printer and put on timers; one is skipped, one in conflict, one is run now', async ({
  page,
}) => {
  await page.goto(`${shop.url}/rota`);
  await page.getByRole('button', { name: 'Design a purge' }).click();
  const designer = page.getByRole('complementary', { name: 'Design a purge' });
  await designer.getByLabel('Printer', { exact: true }).selectOption('Wren');
  await designer.getByLabel('Stock', { exact: true }).selectOption('Film sheet 320 × 450');
  await designer.getByLabel('Print mode', { exact: true }).selectOption({ label: 'Draft, 720 × 720' });
  await designer.getByRole('textbox', { name: 'Density' }).fill('10');
  await designer.getByRole('textbox', { name: 'Density' }).press('Enter');
  for (const channel of ['Cyan', 'Magenta', 'Yellow', 'Black']) await designer.getByLabel(`Fire ${channel}`).uncheck();
  // Four heads of white on 310 × 420 mm: 0.209 ml, one sheet, 121 s.
  await expect(designer).toContainText('0.209 ml');
  await expect(designer).toContainText('1 sheet');
  await expect(designer).toContainText('2 min');
  // A week of white without work: 29.3 of 1,440 nozzles clog without a purge, none with one a day.
  await expect(designer.getByRole('row', { name: /^no purge/ })).toContainText('29.3');
  await expect(designer.getByRole('row', { name: /^once a day/ })).toContainText('1.5 ml');
  await expect(designer.getByRole('row', { name: /^once a day/ })).toContainText('0.0');
  await expect(designer.getByRole('img')).toHaveAccessibleName('Purge on 320 × 450 mm: White');
  await designer.getByLabel('Name', { exact: true }).fill('White, nightly');
  await designer.getByRole('button', { name: 'Keep the design' }).click();
  const kept = page.getByRole('complementary', { name: 'White, nightly' });
  await kept.getByLabel('Copy to another printer').selectOption('Heron');
  await expect(kept).toContainText('is not in the design; it is not fired.');
  await kept.getByRole('button', { name: 'Keep the copy' }).click();
  await shop.until(async () => (await shop.get<unknown[]>('/api/purges')).length === 2);

  // Nothing fires white: every other day is proposed for it, with what that prevents.
  await page.getByRole('button', { name: 'Propose timers' }).click();
  const proposed = page.getByRole('complementary', { name: 'Timers proposed' });
  await expect(proposed).toContainText('Wren: White, nightly');
  await expect(proposed).toContainText('Prevented by it');
  await proposed.getByRole('button', { name: 'Make this timer' }).first().click();
  await shop.until(async () => (await shop.get<TimerView[]>('/api/timers')).length === 1);
  const [made] = await shop.get<TimerView[]>('/api/timers');
  expect(made?.text).toMatch(/^every (day|\d days) at 04:15$/);
  await shop.send('DELETE', `/api/timers/${made?.id ?? ''}`);

  // A timer for each of the two.
  for (const printer of ['Wren', 'Heron']) {
    await page.getByRole('button', { name: 'New timer' }).click();
    const form = page.getByRole('complementary', { name: 'New timer' });
    await form.getByLabel('Purge', { exact: true }).selectOption(`White, nightly, ${printer}`);
    await form.getByLabel('Time', { exact: true }).fill('04:15');
    await expect(form).toContainText('Every day at 04:15.');
    await form.getByRole('button', { name: 'Make the timer' }).click();
    await expect(form).toBeHidden();
  }
  const timers = await shop.get<TimerView[]>('/api/timers');
  expect(timers.map(({ printerId, text }) => [printerId, text]).sort()).toEqual([
    ['heron', 'every day at 04:15'],
    ['wren', 'every day at 04:15'],
  ]);
  await expect(page.getByRole('region', { name: 'Timers' })).toContainText('next');

  // One is run now: it comes before whatever waits, and is on the ledger.
  const mark = page
    .getByRole('group', { name: 'Time of Wren' })
    .getByRole('button', { name: /White, nightly/ })
    .first();
  await page.getByRole('button', { name: 'Later' }).click();
  await mark.click();
  await page.getByRole('complementary', { name: 'White, nightly' }).getByRole('button', { name: 'Run now' }).click();
  await shop.until(async () => (await shop.get<CareItemView[]>('/api/care')).some(({ state }) => state === 'done'));
  const [done] = await shop.get<CareItemView[]>('/api/care');
  expect(done).toMatchObject({ printerId: 'wren', title: 'White, nightly', fedMm: 450 });
  expect(Object.keys(done?.inkMl ?? {})).toEqual(['white']);

  // It has just exercised white, which need not be done again the next morning where the morning after follows.
  await shop.until(async () => (await rota('wren')).some(({ outcome }) => outcome === 'skipped'));
  const skipped = (await rota('wren')).find(({ outcome }) => outcome === 'skipped');
  expect(skipped?.why).toBe('exercised by work');

  // Heron prints right through the latest start of its purge.
  const { shopMs } = await shop.get<{ shopMs: number }>('/api/clock');
  const heron = (await rota('heron')).find(({ kind }) => kind === 'purge');
  await shop.setRate(0);
  const job = await shop.bringIn('heron-banners', 'night.pdf', await pdfFile([{ widthMm: 1500, heightMm: 4000 }]));
  await shop.setTicket('night.pdf', { copies: 11 });
  const run = await shop.queueRun([job.id]);
  await shop.send('PUT', `/api/runs/${run.id}/start`, {
    fixedStartMs: Math.round((heron?.dueMs ?? shopMs) - 0.2 * HOUR),
  });
  await shop.until(async () => (await rota('heron')).some(({ outcome }) => outcome === 'conflict'));
  const clash = (await rota('heron')).find(({ outcome }) => outcome === 'conflict');
  expect(clash?.why).toContain('prints then, beyond its latest start');
  await page.goto(`${shop.url}/rota`);
  // It is tomorrow, which may be in the week after this one.
  const warning = page.getByText('prints then, beyond its latest start');
  const first = page.getByRole('group', { name: 'Time of Heron' }).getByRole('button', { name: /conflict/ });
  await expect(page.getByRole('group', { name: 'Time of Heron' }).getByRole('button').first()).toBeVisible();
  if (!(await first.first().isVisible())) await page.getByRole('button', { name: 'Later' }).click();
  await expect(warning).toBeVisible();
  await first.first().click();
  await expect(page.getByRole('complementary', { name: /White, nightly/ })).toContainText(
    'switch the exercise strip on',
  );
});

test('a timer is changed by keys alone, paused, and removed; what is undone comes back', async ({ page }) => {
  await shop.send('POST', '/api/timers', {
    ...{ printerIds: ['magpie'], what: { kind: 'check' }, rrule: 'FREQ=DAILY', startLocal: '2030-01-07T07:30' },
    ...{ untilLocal: null, skipHolidays: false, missed: 'report', slackMin: 60, paused: false },
  });
  await page.goto(`${shop.url}/rota`);
  const list = page.getByRole('region', { name: 'Timers' });
  await list.getByRole('button', { name: /every day at 07:30/ }).focus();
  await page.keyboard.press('Enter');
  const form = page.getByRole('complementary', { name: 'Timer', exact: true });
  await form.getByLabel('Repeats').focus();
  await form.getByLabel('Repeats').selectOption('on weekdays');
  await form.getByLabel('Time', { exact: true }).fill('06:45');
  await form.getByRole('button', { name: 'Keep the change' }).focus();
  await page.keyboard.press('Enter');
  await expect(list).toContainText('Monday to Friday at 06:45');
  await list.getByRole('button', { name: 'Pause: nozzle check of Magpie' }).click();
  await expect(list).toContainText('paused');
  await list
    .getByRole('button', { name: /nozzle check/ })
    .first()
    .click();
  await form.getByRole('button', { name: 'Remove the timer' }).click();
  await expect(list).toContainText('No timers yet');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(list).toContainText('Monday to Friday at 06:45');
});

test('killed at any instant around a timer’s minute, a purge is done once', async () => {
  test.setTimeout(600_000);
  await shop.setRate(0);
  const designs = await shop.send<{ id: string }>('POST', '/api/purges', {
    ...{ printerId: 'wren', name: 'White', modeId: 'draft', stockId: 'film-sheet', onlyNeeded: false },
    sheet: { form: 'sheet', widthMm: 320, lengthMm: 450, density: 0.1, levels: { white: 1 } },
  });
  // Every hour, so that none is needless to the shop: each is more than its dose, and due anew.
  await shop.send('POST', '/api/timers', {
    ...{ printerIds: ['wren'], what: { kind: 'clean', strength: 'light', channelIds: ['white'] } },
    ...{ rrule: 'FREQ=HOURLY;INTERVAL=1', startLocal: '2020-01-01T00:00', untilLocal: null },
    ...{ skipHolidays: false, missed: 'catch-up', slackMin: 30, paused: false },
  });
  await shop.send('POST', '/api/care', { printerId: 'wren', what: { kind: 'purge', designId: designs.id } });
  await shop.setRate(300);
  for (const ms of [40, 300, 900, 1700, 2600, 3300]) {
    await new Promise((wait) => setTimeout(wait, ms));
    await shop.kill9();
    await shop.start();
  }
  const care = (): Promise<CareItemView[]> => shop.get<CareItemView[]>('/api/care');
  await shop.until(async () => (await care()).filter(({ state }) => state === 'done').length >= 3);
  await shop.setRate(0);
  const all = await care();
  // Nothing twice: an instant has one row, and each row was begun once unless the printer had never heard of it.
  const instants = all
    .filter(({ timerId }) => timerId !== null)
    .map(({ timerId, dueMs }) => `${timerId ?? ''} ${String(dueMs)}`);
  expect(new Set(instants).size).toBe(instants.length);
  expect(all.filter(({ timerId }) => timerId === null)).toMatchObject([{ state: 'done' }]);
  const used = all.flatMap(({ state, inkMl }) => (state === 'done' ? [inkMl.white ?? 0] : []));
  expect(used.every((ml) => ml > 0)).toBe(true);
});
