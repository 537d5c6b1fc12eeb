import { expect, test, type Page } from '@playwright/test';
import { laidOut, layOutJobs } from '../driver/bench.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 120 });
  // The tests run at any hour of a real day: somebody is always there.
  await shop.send('PUT', '/api/shop', { ...(await shop.get<object>('/api/shop')), days: everyDay() });
});
test.afterEach(async () => {
  await shop.close();
});

function everyDay(): { weekday: number; from: string; to: string }[] {
  return [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '00:00', to: '24:00' }));
}

const sheetOf = (page: Page, printer: string) => page.getByRole('complementary', { name: printer });
const strip = (page: Page, printer: string) => page.getByRole('article', { name: printer });

test('loading: the wrong stock holds the run back with the reason, a wrong width is refused, then the right roll, measured, prints', async ({
  page,
}) => {
  const job = await shop.bringIn('heron-banners', 'sail.pdf', await pdfFile([{ widthMm: 1200, heightMm: 900 }]));
  await shop.setTicket('sail.pdf', { stockId: 'mesh' });
  const run = await shop.queueRun([job.id]);
  await page.goto(`${shop.url}/floor`);
  const hands = page.getByRole('list', { name: 'Next hands' });
  await expect(hands).toContainText('Load ME-08, Mesh banner 1600, on Heron roll');
  expect((await shop.run(run.id)).state).toBe('queued');
  await hands.getByRole('button', { name: /Load ME-08/ }).click();
  const sheet = sheetOf(page, 'Heron');
  await expect(sheet).toContainText(`Heron holds Block-out banner 1600; ${run.name} is for Mesh banner 1600`);
  await sheet.getByRole('button', { name: 'Load another spool on roll' }).click();
  const load = sheet.getByRole('group', { name: 'Load Heron, roll' });
  // What is wanted next stands first.
  await expect(load.getByRole('list', { name: 'Spools that fit' }).getByRole('button').first()).toContainText('ME-08');
  await load.getByLabel('Label', { exact: true }).fill('me-08');
  await load.getByLabel('Label', { exact: true }).press('Enter');
  await load.getByLabel('Width as measured').fill('1372');
  await load.getByLabel('Width as measured').press('Enter');
  await load.getByLabel('Take-up', { exact: true }).selectOption('off');
  await load.getByRole('button', { name: 'Load ME-08 on Heron, roll' }).click();
  await expect(load.getByRole('alert')).toContainText('Mesh banner 1600 is 1,600 mm wide, and this measures 1,372 mm');
  await load.getByLabel('Width as measured').fill('1600');
  await load.getByLabel('Width as measured').press('Enter');
  // 0.38 mm on a 76 mm core: 120 mm across make 17.82 m.
  await load.getByLabel('Length left from').selectOption('diameter');
  await load.getByLabel('Outer diameter').fill('120 mm');
  await expect(load).toContainText('makes 17.82 m');
  await load.getByLabel('Take-up', { exact: true }).selectOption('printed side out');
  await expect(load.getByRole('button', { name: '4 to check first' })).toBeDisabled();
  for (const tick of await load.getByRole('checkbox').all()) await tick.check();
  await load.getByRole('button', { name: 'Load ME-08 on Heron, roll' }).click();
  await shop.runIs(run.id, 'printed');
  const done = await shop.run(run.id);
  expect((await shop.spool('spool-me-08')).leftMm).toBeCloseTo(17_823 - done.lengthMm - 60, -1);
  expect((await shop.spool('spool-bo-31')).printerId).toBeNull();
  await page.goto(`${shop.url}/media?spool=spool-me-08`);
  await expect(sheetOf(page, 'ME-08')).toContainText(/correction.*measured at loading/s);
});

test('a run is dragged to another printer: what it costs is said before, it is laid out anew and printed there; where it can’t go the reason stands', async ({
  page,
}) => {
  const first = await shop.bringIn('bittern-photo', 'first.pdf', await pdfFile([{ widthMm: 400, heightMm: 2500 }]));
  const wall = await shop.bringIn('bittern-photo', 'wall.pdf', await pdfFile([{ widthMm: 600, heightMm: 800 }]));
  await shop.setRate(2);
  await shop.queueRun([first.id]);
  const run = await shop.queueRun([wall.id]);
  await page.goto(`${shop.url}/floor`);
  await page.getByRole('button', { name: '1 h', exact: true }).click();
  const bar = strip(page, 'Bittern').getByRole('button', { name: new RegExp(`${run.name}, queued`) });
  await expect(bar).toBeVisible();
  const grab = await bar.boundingBox();
  const magpie = await strip(page, 'Magpie').boundingBox();
  const gannet = await strip(page, 'Gannet').boundingBox();
  if (!grab || !magpie || !gannet) throw new Error('strips are not drawn');
  await page.mouse.move(grab.x + 10, grab.y + 20);
  await page.mouse.down();
  await page.mouse.move(grab.x + 30, grab.y + 30, { steps: 4 });
  await page.mouse.move(grab.x + 40, magpie.y + magpie.height / 2, { steps: 8 });
  const said = page.getByRole('status').filter({ hasText: /Magpie|Gannet/ });
  await expect(said).toContainText('Satin photo 914 is not for Magpie');
  await page.mouse.move(grab.x + 40, gannet.y + gannet.height / 2, { steps: 8 });
  await expect(said).toContainText(/On Gannet: .* m, .*(cheaper|dearer), in time/);
  await page.mouse.up();
  await shop.until(async () => (await shop.run(run.id)).state === 'cancelled');
  expect((await shop.run(run.id)).reason).toBe('moved to Gannet');
  await shop.setRate(300);
  const moved = (await shop.runs()).find((each) => each.printerId === 'gannet');
  if (!moved) throw new Error('the run is not on Gannet');
  expect(moved).toMatchObject({ modeId: 'posters', stockId: 'satin-914', pieceCount: 1 });
  await shop.runIs(moved.id, 'printed');
  expect(await shop.job('wall.pdf')).toMatchObject({
    state: 'printed',
    queueId: 'gannet-plans',
    pieces: { printed: 1 },
  });
});

test('the line is put in order by keys, by the sheet and by a proposal; what was queued meanwhile is not overrun', async ({
  page,
}) => {
  await shop.setRate(2);
  const ids: string[] = [];
  for (const [name, stockId] of [
    ['hold.pdf', 'satin-914'],
    ['a.pdf', 'cotton-rag'],
    ['b.pdf', 'satin-914'],
    ['c.pdf', 'satin-610'],
    ['d.pdf', 'satin-914'],
    ['e.pdf', 'satin-610'],
  ] as const) {
    const job = await shop.bringIn('bittern-photo', name, await pdfFile([{ widthMm: 400, heightMm: 500 }]));
    await shop.setTicket(name, { stockId });
    ids.push((await shop.queueRun([job.id])).id);
  }
  const [, a = '', b = '', c = '', d = '', e = ''] = ids;
  const order = async (): Promise<string[]> =>
    (await shop.runs())
      .filter((run) => run.printerId === 'bittern' && run.state === 'queued')
      .sort((x, y) => x.position - y.position)
      .map((run) => run.id);
  await shop.runIs(ids[0] ?? '', 'printing');
  expect(await order()).toEqual([a, b, c, d, e]);
  // Ranges of finishes come when all else stands: what is pressed meanwhile must not move away.
  await page.route('**/finish.worker*', async (route) => {
    await new Promise((done) => setTimeout(done, 2500));
    await route.continue();
  });
  await page.goto(`${shop.url}/floor?printer=bittern`);
  const line = sheetOf(page, 'Bittern').getByRole('list', { name: 'Line of Bittern' });
  const earlier = line.getByRole('button', { name: /Run 3 earlier/ });
  await expect(earlier).toBeVisible();
  await expect(line.getByText('likely done –').first()).toBeVisible();
  // A font that comes late lays text out anew.
  await page.evaluate(async () => void (await document.fonts.ready));
  const before = await earlier.boundingBox();
  await expect(line.getByText(/likely done \d\d:\d\d/).first()).toBeVisible();
  expect(await earlier.boundingBox()).toEqual(before);
  await earlier.click();
  await expect.poll(order).toEqual([b, a, c, d, e]);
  // By keys on the strip: taken up, one place back, put down.
  await page.getByRole('button', { name: '6 h', exact: true }).click();
  const bar = strip(page, 'Bittern').getByRole('button', { name: /Run 2, queued/ });
  await bar.focus();
  await page.keyboard.press('Space');
  await expect(bar).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('status').filter({ hasText: 'starts in' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect.poll(order).toEqual([a, b, c, d, e]);
  // Satin 914 and cotton are loaded. Like this 914 goes out for 610 and comes in again for cotton; one change is enough.
  const awkward = [c, a, b, e, d];
  await shop.send('PUT', '/api/printers/bittern/line', { runIds: awkward });
  await page.getByRole('button', { name: 'Propose an order' }).click();
  const sheet = sheetOf(page, 'Proposed order');
  await expect(sheet).toContainText(/Change-over\s*12 min\s*6 min/);
  await sheet.getByRole('button', { name: 'Take this order' }).click();
  await expect.poll(async () => (await order()).join()).not.toEqual(awkward.join());
  const taken = await order();
  expect([...taken].sort()).toEqual([a, b, c, d, e].sort());
  // A line that is not the one that was seen is refused.
  await expect(shop.send('PUT', '/api/printers/bittern/line', { runIds: [a, b] })).rejects.toThrow(/line-changed/);
});

test('front and back are moved as one: by the arrows of another run, and by their own', async ({ page }) => {
  await shop.setRate(2);
  const sign = { widthMm: 300, heightMm: 200 };
  const hold = await shop.bringIn('bittern-photo', 'hold.pdf', await pdfFile([{ widthMm: 500, heightMm: 3000 }]));
  const first = await shop.queueRun([hold.id]);
  await shop.bringIn('bittern-photo', 'sign.pdf', await pdfFile([sign, sign]));
  const front = await layOutJobs(page, shop, 'sign.pdf');
  await page.getByRole('tab', { name: 'Sides' }).click();
  await page.getByLabel('Media is turned').selectOption('end for end');
  await page.getByRole('button', { name: 'Add the back' }).click();
  await laidOut(page, shop);
  const back = (await shop.run(front)).pair?.otherRunId ?? '';
  await page.getByRole('button', { name: /^Queue both sides/ }).click();
  await shop.runIs(back, 'queued');
  const other = await shop.bringIn('bittern-photo', 'other.pdf', await pdfFile([sign]));
  const last = (await shop.queueRun([other.id])).id;
  const order = async (): Promise<string[]> =>
    (await shop.runs())
      .filter((run) => run.printerId === 'bittern' && run.state === 'queued')
      .sort((x, y) => x.position - y.position)
      .map((run) => run.id);
  await shop.runIs(first.id, 'printing');
  expect(await order()).toEqual([front, back, last]);
  await page.goto(`${shop.url}/floor?printer=bittern`);
  const line = sheetOf(page, 'Bittern').getByRole('list', { name: 'Line of Bittern' });
  await expect(line).toContainText('front');
  await expect(line).toContainText('back');
  await line.getByRole('button', { name: `${(await shop.run(last)).name} earlier` }).click();
  await expect.poll(order).toEqual([last, front, back]);
  await line.getByRole('button', { name: `${(await shop.run(front)).name} earlier` }).click();
  await expect.poll(order).toEqual([front, back, last]);
});

test('a fault spoils a run: its rest and the runs behind it are offered to another printer, and nothing is printed twice', async ({
  page,
}) => {
  const job = await shop.bringIn('bittern-photo', 'posters.pdf', await pdfFile([{ widthMm: 800, heightMm: 500 }]));
  await shop.setTicket('posters.pdf', { copies: 5 });
  await shop.strike('bittern', { kind: 'jam', atMm: 1200 });
  const behind = await shop.bringIn('bittern-photo', 'card.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const run = await shop.queueRun([job.id]);
  const next = await shop.queueRun([behind.id]);
  await shop.runIs(run.id, 'failed');
  expect((await shop.job('posters.pdf')).pieces).toMatchObject({ printed: 2, owed: 3 });
  await page.goto(`${shop.url}/floor?printer=bittern`);
  const hands = page.getByRole('list', { name: 'Next hands' });
  await expect(hands).toContainText('Bittern: jam');
  await expect(hands).toContainText('While Bittern stands, others can take its 2 runs');
  const sheet = sheetOf(page, 'Bittern');
  const offers = sheet.getByRole('list', { name: 'Work of Bittern that others could take' });
  await expect(offers.getByRole('listitem')).toHaveText([
    new RegExp(`rest of ${run.name}.*Gannet is done with it`),
    new RegExp(`${next.name}.*Gannet is done with it`),
  ]);
  await offers.getByRole('listitem').nth(1).getByRole('button', { name: 'To Gannet' }).click();
  await shop.jobIs('card.pdf', 'printed', 60_000);
  await sheet.getByLabel(`Print the rest of ${run.name} elsewhere`).selectOption('on Gannet');
  await shop.jobIs('posters.pdf', 'printed', 60_000);
  const moved = (await shop.runs()).filter((each) => each.printerId === 'gannet');
  expect(moved.map(({ pieceCount }) => pieceCount).sort()).toEqual([1, 3]);
  expect(moved.every(({ state }) => state === 'printed')).toBe(true);
  await expect(offers).toBeHidden();
  expect((await shop.job('posters.pdf')).pieces).toMatchObject({ printed: 5, owed: 0, placed: 0 });
  await shop.mend('bittern');
});

test('a bed stops after each shirt until a person has loaded the next', async ({ page }) => {
  const bytes = await pdfFile([{ widthMm: 250, heightMm: 300 }]);
  await shop.drop('puffin-shirts', 'crew.pdf', bytes);
  await shop.until(async () => (await shop.job('crew.pdf')).state === 'checked');
  const job = await shop.job('crew.pdf');
  await shop.send('POST', `/api/jobs/${job.id}/accept`);
  await shop.setTicket('crew.pdf', { copies: 3 });
  const before = (await shop.spool('spool-sw-20')).leftMm;
  const draft = await shop.send<{ id: string }>('POST', '/api/runs', { jobIds: [job.id] });
  await page.goto(`${shop.url}/bench/${draft.id}`);
  // The smallest bed that takes it: 300 × 350, one shirt each.
  await expect(page.getByRole('complementary', { name: 'Figures' })).toContainText('3 of 350 mm');
  await page.getByRole('button', { name: /^Queue .* on Puffin/ }).click();
  await expect(page).toHaveURL(/\/bench$/);
  await page.goto(`${shop.url}/floor?printer=puffin`);
  const sheet = sheetOf(page, 'Puffin');
  for (const whole of [1, 2]) {
    await expect(page.getByRole('list', { name: 'Next hands' })).toContainText(
      'Puffin waits: stops for the next piece',
    );
    await expect(sheet).toContainText(`${String(350 * whole)} of 1,050 mm`);
    await sheet.getByRole('button', { name: 'Next piece is loaded' }).click();
  }
  await shop.runIs(draft.id, 'printed');
  // Three shirts, each counted as 500 mm of its pack.
  expect((await shop.spool('spool-sw-20')).leftMm).toBeCloseTo(before - 1500, 6);
});

test('the roll that runs out in the middle: what it gave is on its ledger, the rest is on the next one’s', async ({
  page,
}) => {
  const job = await shop.bringIn('bittern-photo', 'long.pdf', await pdfFile([{ widthMm: 500, heightMm: 2000 }]));
  await shop.strike('bittern', { kind: 'media out', atMm: 700 });
  const run = await shop.queueRun([job.id]);
  await page.goto(`${shop.url}/floor?printer=bittern`);
  const sheet = sheetOf(page, 'Bittern');
  await expect(sheet).toContainText('paused: media out');
  await sheet.getByRole('button', { name: 'Load another spool on roll 1' }).click();
  const load = sheet.getByRole('group', { name: 'Load Bittern, roll 1' });
  await load.getByRole('button', { name: /SP-45/ }).click();
  await load.getByRole('button', { name: /^Load SP-45/ }).click();
  await expect(sheet).toContainText('media out mended, waits to go on');
  await sheet.getByRole('button', { name: 'Go on' }).click();
  await shop.runIs(run.id, 'printed');
  const fed = (await shop.run(run.id)).lengthMm + 30;
  const old = await shop.spool('spool-sp-44');
  const next = await shop.spool('spool-sp-45');
  expect(old.leftMm).toBeCloseTo(0, 6);
  expect(30_000 - next.leftMm).toBeGreaterThan(fed - 900);
  expect(30_000 - next.leftMm).toBeLessThan(fed - 600);
});
