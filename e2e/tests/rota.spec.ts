import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { expect, test } from '@playwright/test';
import type { CareItemView, RotaView, TimerView } from '../../contract/api/care.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

const HOUR = 3_600_000;
/** A local time as timers take it. */
const wallTimeOf = (ms: number, zone: string): string => format(ms, "yyyy-MM-dd'T'HH:mm", { in: tz(zone) });

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

  // One timer for both in one step; Heron's own copy is printed there.
  await page.getByRole('button', { name: 'New timer' }).click();
  const form = page.getByRole('complementary', { name: 'New timer' });
  await form.getByLabel('Purge', { exact: true }).selectOption('White, nightly, Wren');
  await form.getByLabel('Heron').check();
  await expect(form).toContainText('Its own purge White, nightly is printed.');
  await form.getByLabel('Time', { exact: true }).fill('04:15');
  await expect(form).toContainText('Every day at 04:15.');
  await form.getByRole('button', { name: 'Make the timers' }).click();
  await expect(form).toBeHidden();
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

  // Heron prints right through the latest start of another one.
  const job = await shop.bringIn('heron-banners', 'night.pdf', await pdfFile([{ widthMm: 1500, heightMm: 3000 }]));
  await shop.setTicket('night.pdf', { copies: 9 });
  const run = await shop.queueRun([job.id]);
  await shop.until(async () => (await shop.run(run.id)).state === 'printing');
  await shop.setRate(0);
  const { shopMs } = await shop.get<{ shopMs: number }>('/api/clock');
  const heron = (await shop.get<TimerView[]>('/api/timers')).find(({ printerId }) => printerId === 'heron');
  const soon = wallTimeOf(shopMs + 0.2 * HOUR, (await shop.get<{ zone: string }>('/api/clock')).zone);
  await shop.send('PATCH', `/api/timers/${heron?.id ?? ''}`, { startLocal: soon, rrule: null, slackMin: 0 });
  await shop.until(async () => (await rota('heron')).some(({ outcome }) => outcome === 'conflict'));
  await page.goto(`${shop.url}/rota`);
  await expect(page.getByText('prints then, beyond its latest start')).toBeVisible();
  await page
    .getByRole('group', { name: 'Time of Heron' })
    .getByRole('button', { name: /conflict/ })
    .first()
    .click();
  await expect(page.getByRole('complementary', { name: /White, nightly/ })).toContainText('It comes after');
});

test('what answers late pushes nothing away: a button is pressed where it was seen', async ({ page }) => {
  await shop.setRate(0);
  let answerNow: () => void = () => undefined;
  const late = new Promise<void>((resolve) => (answerNow = resolve));
  await page.route('**/api/away', async (route) => {
    await late;
    await route.continue();
  });
  await page.goto(`${shop.url}/rota`);
  const button = page.getByRole('button', { name: 'New rule' });
  const band = page.getByRole('region', { name: 'Away plan' });
  await expect(button).toBeVisible();
  await expect(band).toContainText('Reading');
  const before = await button.boundingBox();
  answerNow();
  await expect(band).toContainText('Nobody is there from');
  expect(await button.boundingBox()).toEqual(before);
});

test('a rule puts a check before long runs; a run that would keep a purge too long lets it go first', async ({
  page,
}) => {
  await shop.setRate(0);
  await page.goto(`${shop.url}/rota`);
  await page.getByRole('button', { name: 'New rule' }).click();
  const rule = page.getByRole('complementary', { name: 'New rule' });
  await rule.getByLabel('Longer than').fill('2 m');
  await rule.getByLabel('Longer than').press('Enter');
  await expect(rule).toContainText('Nozzle check before every run over 2 m.');
  await rule.getByLabel('On all printers').uncheck();
  for (const name of ['Magpie', 'Bittern', 'Wren', 'Puffin', 'Gannet']) await rule.getByLabel(name).uncheck();
  await rule.getByRole('button', { name: 'Make the rule' }).click();
  await expect(page.getByRole('region', { name: 'Rules' })).toContainText('Heron');

  const job = await shop.bringIn('heron-banners', 'long.pdf', await pdfFile([{ widthMm: 1500, heightMm: 3000 }]));
  await shop.setTicket('long.pdf', { copies: 6 });
  const { shopMs, zone } = await shop.get<{ shopMs: number; zone: string }>('/api/clock');
  await shop.send('POST', '/api/timers', {
    ...{ printerIds: ['heron'], what: { kind: 'clean', strength: 'light', channelIds: ['cyan'] }, rrule: 'FREQ=DAILY' },
    ...{ startLocal: wallTimeOf(shopMs + 0.3 * HOUR, zone), untilLocal: null, skipHolidays: false },
    ...{ missed: 'report', slackMin: 0, paused: false },
  });
  const run = await shop.queueRun([job.id]);
  const strip = page.getByRole('group', { name: 'Time of Heron' });
  await expect(strip.getByRole('button', { name: /light clean.*it goes first/ })).toBeVisible();
  await shop.setRate(60);
  await shop.until(async () => (await shop.run(run.id)).state === 'printing');
  const care = (await shop.get<CareItemView[]>('/api/care')).filter(({ printerId }) => printerId === 'heron');
  expect(care.map(({ title, state }) => [title, state]).sort()).toEqual([
    ['light clean', 'done'],
    ['nozzle check', 'done'],
  ]);
});

test('a person starts care at the printer, and takes out what waits', async ({ page }) => {
  await shop.setRate(0);
  await page.goto(`${shop.url}/floor?printer=heron`);
  const care = page.getByRole('complementary', { name: 'Heron' });
  await care.getByLabel('Channels to clean').selectOption('Cyan');
  await care.getByRole('button', { name: 'Light clean' }).click();
  await shop.until(async () => (await shop.get<CareItemView[]>('/api/care')).some(({ state }) => state === 'caring'));
  const [clean] = await shop.get<CareItemView[]>('/api/care');
  expect(clean?.what).toEqual({ kind: 'clean', strength: 'light', channelIds: ['cyan'] });
  await care.getByRole('button', { name: 'Nozzle check' }).click();
  await expect(care.getByRole('button', { name: 'Stop the light clean' })).toBeVisible();
  await care.getByRole('button', { name: 'Take the nozzle check out of the line' }).click();
  await shop.until(async () =>
    (await shop.get<CareItemView[]>('/api/care')).some(({ state }) => state === 'cancelled'),
  );
  await shop.setRate(600);
  await shop.until(async () => (await shop.get<CareItemView[]>('/api/care')).some(({ state }) => state === 'done'));
  const all = await shop.get<CareItemView[]>('/api/care');
  expect(all.map(({ title, state }) => [title, state])).toEqual([
    ['light clean', 'done'],
    ['nozzle check', 'cancelled'],
  ]);
});

test('what is planned is moved by pointer and by keys, and put back', async ({ page }) => {
  await shop.setRate(0);
  const { shopMs, zone } = await shop.get<{ shopMs: number; zone: string }>('/api/clock');
  const day = wallTimeOf(shopMs + 24 * HOUR, zone).slice(0, 10);
  await shop.send('POST', '/api/timers', {
    ...{ printerIds: ['magpie'], what: { kind: 'check' }, rrule: 'FREQ=DAILY', startLocal: `${day}T12:00` },
    ...{ untilLocal: null, skipHolidays: false, missed: 'report', slackMin: 60, paused: false },
  });
  await page.goto(`${shop.url}/rota?span=day`);
  await page.getByRole('button', { name: 'Later' }).click();
  const strip = page.getByRole('group', { name: 'Time of Magpie' });
  const mark = strip.getByRole('button', { name: /nozzle check/ });
  await mark.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByText('nozzle check: every day at 12:10')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+ArrowLeft');
  await page.keyboard.press('Enter');
  const list = page.getByRole('region', { name: 'Timers' });
  await expect(list).toContainText('every day at 11:55');
  // Who moved it by keys goes on from it.
  await expect(mark).toBeFocused();

  // While the Rota is read anew its mark may be drawn anew, too.
  const drawn = async (each: typeof mark): Promise<{ x: number; y: number; width: number; height: number }> => {
    for (;;) {
      const box = await each.boundingBox();
      if (box) return box;
    }
  };
  const [box, wide] = [await drawn(mark), await drawn(strip)];
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  // Three hours to the right.
  await page.mouse.move(x + wide.width / 8, y, { steps: 8 });
  // A busy machine draws it a moment later than the pointer is there.
  await expect(page.getByText(/nozzle check: every day at 14:5\d/)).toBeVisible();
  await page.mouse.up();
  await expect(list).toContainText(/every day at 14:5\d/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(list).toContainText('every day at 11:55');
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
