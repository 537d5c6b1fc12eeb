import { expect, test, type Browser, type Page } from '@playwright/test';
import type { Me, PersonView } from '../../contract/api/people.ts';
import { faultsOf } from '../driver/axe.ts';
import { layOutJobs } from '../driver/bench.ts';
import { pdfFile } from '../driver/files.ts';
import { type Role, addPerson, haveSignIn, passwordOf, signInAt } from '../driver/people.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
  await haveSignIn(shop);
  await addPerson(shop, 'Ada Quill', 'viewer', 'ada');
  await addPerson(shop, 'Bram Teller', 'operator', 'bram');
  await addPerson(shop, 'Ines Quay', 'coordinator', 'ines');
});
test.afterAll(async () => {
  await shop.close();
});

/** A browser of their own, at a view of the shop, signed in. */
async function pageOf(browser: Browser, signInName: string, path = '/floor'): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  await page.goto(shop.url + path);
  await signInAt(page, signInName);
  await expect(page.getByRole('navigation', { name: 'Views' })).toBeVisible();
  return page;
}

/** As whoever is at a page would ask by hand. */
function ask(page: Page, method: string, path: string, body?: unknown): Promise<number> {
  return page.evaluate(
    async ([how, where, what]) =>
      (
        await fetch(where, {
          method: how,
          ...(what === undefined ? {} : { body: what, headers: { 'content-type': 'application/json' } }),
        })
      ).status,
    [method, path, body === undefined ? undefined : JSON.stringify(body)] as const,
  );
}

test('a stranger sees the sign-in and nothing else; a wrong password is told, the right one leads to where they wanted to go', async ({
  page,
}) => {
  await page.goto(`${shop.url}/media`);
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect(page.getByText('Heron')).toHaveCount(0);
  await page.getByLabel('Name', { exact: true }).fill('bram');
  await page.getByLabel('Password').fill('a wrong guess');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Name or password is wrong.');
  await page.getByLabel('Password').fill(passwordOf('bram'));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Media' })).toBeVisible();
  await page.getByRole('link', { name: 'Bram' }).click();
  await expect(page.getByText('operator. You can do the work at printers')).toBeVisible();
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  expect(await ask(page, 'GET', '/api/jobs')).toBe(401);
});

/** What each role is offered on its way through the views, and what it is not. */
const OFFERED: readonly (readonly [role: Role, name: string, offered: readonly Place[], not: readonly Place[]])[] = [
  ['viewer', 'ada', [], ['start', 'receive', 'drop', 'timer', 'people']],
  ['operator', 'bram', ['start'], ['receive', 'drop', 'timer', 'people']],
  ['coordinator', 'ines', ['start', 'receive', 'drop', 'timer'], ['people']],
  ['owner', 'odile', ['start', 'receive', 'drop', 'timer', 'people'], []],
];
type Place = 'start' | 'receive' | 'drop' | 'timer' | 'people';
const PLACES: Readonly<Record<Place, readonly [path: string, button: string]>> = {
  start: ['/floor?printer=heron', 'Nozzle check'],
  receive: ['/media', 'Receive media'],
  drop: ['/intake', 'choose them'],
  timer: ['/rota', 'New timer'],
  people: ['/setup', 'Everybody, and sign-in roles, sign-in'],
};
/** Each needs one right more than the one before. */
const REQUESTS: readonly (readonly [method: string, path: string, body?: unknown])[] = [
  ['GET', '/api/printers'],
  ['POST', '/api/next-hands/opened', { key: 'nothing' }],
  ['PUT', '/api/runs/nothing/important', { important: true }],
  ['PUT', '/api/rules', []],
];

for (const [role, name, offered, not] of OFFERED) {
  test(`${role}: what they may do is offered, what they may not is neither offered nor done`, async ({ browser }) => {
    const page = await pageOf(browser, name);
    for (const [place, is] of [
      ...offered.map((each) => [each, true] as const),
      ...not.map((each) => [each, false] as const),
    ]) {
      const [path, text] = PLACES[place];
      await page.goto(shop.url + path);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      const button = page.getByRole('button', { name: text, exact: true });
      if (is) await expect(button).toBeEnabled();
      else {
        // Nothing that comes later may offer it either.
        await page.waitForTimeout(700);
        expect([place, (await button.count()) === 0 || (await button.isDisabled())]).toEqual([place, true]);
      }
    }
    const answers: number[] = [];
    for (const [method, path, body] of REQUESTS) answers.push(await ask(page, method, path, body));
    const may = ['viewer', 'operator', 'coordinator', 'owner'].indexOf(role);
    expect(answers.map((status) => status === 403)).toEqual(REQUESTS.map((_, i) => i > may));
    await page.context().close();
  });
}

for (const [role, who] of [
  ['viewer', 'ada'],
  ['operator', 'bram'],
] as const) {
  test(`${role}: nothing that they can press on any view is refused, since what they may not do is not there`, async ({
    browser,
  }) => {
    await shop.bringIn('heron-banners', `seen-${who}.pdf`, await pdfFile([{ widthMm: 300, heightMm: 200 }]));
    const job = await shop.job(`seen-${who}.pdf`);
    const draft = await shop.send<{ id: string }>('POST', '/api/runs', {
      jobIds: [
        (await shop.bringIn('heron-banners', `laid-${who}.pdf`, await pdfFile([{ widthMm: 300, heightMm: 200 }]))).id,
      ],
    });
    // A run that was cancelled while it printed: what it left over could be printed again.
    const left = await shop.bringIn(
      'bittern-photo',
      `left-${who}.pdf`,
      await pdfFile([{ widthMm: 300, heightMm: 200 }]),
    );
    const broken = await shop.queueRun([left.id]);
    await shop.runIs(broken.id, 'printing');
    await shop.send('POST', `/api/runs/${broken.id}/cancel`);
    await shop.runIs(broken.id, 'cancelled');
    const page = await pageOf(browser, who);
    const refused: string[] = [];
    page.on('response', (response) => {
      if (response.status() === 403) refused.push(`${response.request().method()} ${response.url()}`);
    });
    const paths = [
      '/floor?printer=heron',
      '/floor?printer=bittern',
      '/floor?order=',
      `/intake?job=${job.id}`,
      `/bench/${draft.id}`,
      '/rota',
      '/rota/away',
      '/heads?printer=magpie',
      '/heads?printer=magpie&read=loose',
      '/media?spool=spool-bo-32',
      '/media?printer=heron',
      '/shelf',
      '/setup?queue=heron-banners',
      '/setup?preset=fit-the-roll',
      '/setup?hours=',
    ];
    const pressed: string[] = [];
    for (const path of paths) {
      await page.goto(shop.url + path);
      await page.waitForTimeout(900);
      const buttons = page.locator('#view').getByRole('button', { disabled: false });
      for (let i = 0; i < Math.min(await buttons.count(), 45); i += 1) {
        const button = buttons.nth(i);
        const name = await button.textContent({ timeout: 500 }).catch(() => null);
        // What leads away from this view is pressed there.
        if (name === null || (await button.isHidden())) continue;
        await button.click({ timeout: 700 }).catch(() => undefined);
        pressed.push(`${path} ${name}`);
        if (new URL(page.url()).pathname !== path.split('?')[0]) {
          await page.goto(shop.url + path);
          await page.waitForTimeout(400);
        }
      }
    }
    expect(pressed.length).toBeGreaterThan(60);
    expect(refused).toEqual([]);
    expect((await shop.run(draft.id)).state).toBe('draft');
    await shop.send('POST', `/api/runs/${draft.id}/dissolve`);
    await page.context().close();
  });
}

test('whose session ends goes on where they were: what is being edited is kept under their name once they have signed in again', async ({
  browser,
}) => {
  await shop.bringIn('bittern-photo', 'edited.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const page = await pageOf(browser, 'ines', `/intake?job=${(await shop.job('edited.pdf')).id}`);
  const copies = page.getByLabel('Copies', { exact: true });
  await expect(copies).toBeVisible();
  const ines = (await shop.get<PersonView[]>('/api/people')).find(({ name }) => name === 'Ines Quay');
  await copies.fill('7');
  await shop.send('POST', `/api/people/${ines?.id ?? ''}/sign-out`);
  const dialog = page.getByRole('dialog', { name: 'You have been signed out' });
  const said = page.getByRole('heading', { name: 'You have been signed out' });
  await expect(said).toBeVisible();
  await expect(dialog.getByLabel('Name', { exact: true })).toHaveValue('ines');
  expect((await shop.job('edited.pdf')).copies).toBe(1);
  await dialog.getByLabel('Password').fill(passwordOf('ines'));
  await page.keyboard.press('Enter');
  await expect(said).toBeHidden();
  await expect(page.getByText('live', { exact: true })).toBeVisible();
  await expect.poll(async () => (await shop.job('edited.pdf')).copies).toBe(7);
  const [changed] = (await shop.log()).filter(({ kind }) => kind === 'job.changed');
  expect(changed?.who).toBe('Ines Quay');
  // The page has not heard that the session is over: the change itself finds out, and waits as well.
  await page.context().clearCookies();
  await copies.fill('8');
  await copies.press('Enter');
  await expect(said).toBeVisible();
  await dialog.getByLabel('Password').fill(passwordOf('ines'));
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await shop.job('edited.pdf')).copies).toBe(8);
  await page.context().close();
});

test('somebody else who signs in over a page begins anew: what was begun is not done in their name', async ({
  browser,
}) => {
  await shop.bringIn('bittern-photo', 'hers.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const page = await pageOf(browser, 'ines', `/intake?job=${(await shop.job('hers.pdf')).id}`);
  const copies = page.getByLabel('Copies', { exact: true });
  await copies.fill('9');
  const ines = (await shop.get<PersonView[]>('/api/people')).find(({ name }) => name === 'Ines Quay');
  await shop.send('POST', `/api/people/${ines?.id ?? ''}/sign-out`);
  const dialog = page.getByRole('dialog', { name: 'You have been signed out' });
  await dialog.getByLabel('Name', { exact: true }).fill('odile');
  await dialog.getByLabel('Password').fill(passwordOf('odile'));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Odile' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
  expect((await shop.job('hers.pdf')).copies).toBe(1);
  await page.context().close();
});

test('whoever signs in again in one tab is back in the others, and what waited there is sent', async ({ browser }) => {
  await shop.bringIn('bittern-photo', 'tabs.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const page = await pageOf(browser, 'ines', `/intake?job=${(await shop.job('tabs.pdf')).id}`);
  const other = await page.context().newPage();
  await page.getByLabel('Copies', { exact: true }).fill('5');
  await page.context().clearCookies();
  await page.getByLabel('Copies', { exact: true }).press('Enter');
  const said = page.getByRole('heading', { name: 'You have been signed out' });
  await expect(said).toBeVisible();
  await other.goto(shop.url);
  await signInAt(other, 'ines');
  await expect(other.getByRole('navigation', { name: 'Views' })).toBeVisible();
  await expect(said).toBeHidden();
  await expect.poll(async () => (await shop.job('tabs.pdf')).copies).toBe(5);
  await page.context().close();
});

test('two people on one draft: the one who comes later is told whose layout is there', async ({ browser }) => {
  await shop.bringIn('bittern-photo', 'shared.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const page = await pageOf(browser, 'ines');
  const id = await layOutJobs(page, shop, 'shared.pdf');
  const { settings, pieces } = await shop.run(id);
  const placements = pieces.map(({ pieceId, xMm, yMm, angleDeg }) => ({ pieceId, xMm, yMm: yMm + 300, angleDeg }));
  await shop.send('PUT', `/api/runs/${id}/layout`, { settings, placements });
  await page.getByRole('button', { name: 'Nest again' }).click();
  await expect(page.getByRole('heading', { name: /Odile Marr has laid out .* anew meanwhile/ })).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('button', { name: 'Take theirs' }).click();
  await page.context().close();
});

test('two people on one setting: each sees at once what the other sets, and the wire says who it was', async ({
  browser,
}) => {
  const one = await pageOf(browser, 'odile', '/setup?queue=heron-banners');
  await addPerson(shop, 'Tove Marr', 'owner', 'tove');
  const other = await pageOf(browser, 'tove', '/setup?queue=heron-banners');
  const gapOf = (page: Page) => page.getByLabel('Gap', { exact: true });
  await gapOf(one).fill('12');
  await gapOf(one).press('Enter');
  await expect(gapOf(other)).toHaveValue('12');
  await other.getByRole('button', { name: 'What happened' }).click();
  await expect(other.getByText('Heron banners changed for jobs that arrive from now on').first()).toBeVisible();
  await expect(other.getByText('Odile Marr', { exact: true }).first()).toBeVisible();
  await gapOf(other).fill('15');
  await gapOf(other).press('Enter');
  await expect(gapOf(one)).toHaveValue('15');
  for (const page of [one, other]) await page.context().close();
});

test('a role that is changed counts at the page at once; preferences follow a person to another browser', async ({
  browser,
}) => {
  const bram = (await shop.get<PersonView[]>('/api/people')).find(({ name }) => name === 'Bram Teller');
  const page = await pageOf(browser, 'bram', '/media');
  await expect(page.getByRole('button', { name: 'Receive media' })).toHaveCount(0);
  await shop.send('PATCH', `/api/people/${bram?.id ?? ''}`, { role: 'coordinator' });
  await expect(page.getByRole('button', { name: 'Receive media' })).toBeVisible();
  await shop.send('PATCH', `/api/people/${bram?.id ?? ''}`, { role: 'operator' });
  await expect(page.getByRole('button', { name: 'Receive media' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Bram' }).click();
  await page.getByLabel('Lengths in').selectOption('inches');
  await page.getByRole('button', { name: 'Dark', exact: true }).click();
  await expect
    .poll(
      async () => (await page.evaluate(async () => ((await (await fetch('/api/me')).json()) as Me).preferences))?.theme,
    )
    .toBe('dark');
  const elsewhere = await pageOf(browser, 'bram', '/me');
  await expect(elsewhere.getByLabel('Lengths in')).toHaveValue('in');
  await expect(elsewhere.locator('html')).toHaveAttribute('data-theme', 'dark');
  const ada = await pageOf(browser, 'ada', '/me');
  await expect(ada.getByLabel('Lengths in')).toHaveValue('metric');
  for (const each of [page, elsewhere, ada]) await each.context().close();
});

test('an owner adds somebody by the pages, and that person signs in with the address they were given', async ({
  browser,
}) => {
  const page = await pageOf(browser, 'odile', '/setup?people=');
  await page.getByLabel('Name of the person').fill('Juno Fell');
  await page.getByLabel('Role of the person').selectOption('operator');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: 'Give a code' }).click();
  const address = (await page.getByLabel('Address with the code').textContent()) ?? '';
  const juno = await (await browser.newContext()).newPage();
  await juno.goto(address);
  await juno.getByLabel('Name to sign in with').fill('juno');
  await juno.getByLabel('Password', { exact: true }).fill('short');
  await juno.getByLabel('The same once more').fill('short');
  await juno.getByRole('button', { name: 'Sign in with this from now on' }).click();
  await expect(juno.getByRole('alert')).toContainText('at least 12 characters');
  await juno.getByLabel('Password', { exact: true }).fill(passwordOf('juno'));
  await juno.getByLabel('The same once more').fill(passwordOf('juno'));
  await juno.getByRole('button', { name: 'Sign in with this from now on' }).click();
  await expect(juno.getByRole('heading', { name: 'Floor' })).toBeVisible();
  await expect(page.getByText('as juno with a password')).toBeVisible();
  for (const each of [page, juno]) await each.context().close();
});

test('the sign-in has no accessibility faults: in the light and in the dark, wide and on a phone', async ({ page }) => {
  for (const [width, theme] of [
    [1280, 'light'],
    [390, 'dark'],
  ] as const) {
    await page.setViewportSize({ width, height: 800 });
    await page.goto(shop.url);
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await page.evaluate((name) => (document.documentElement.dataset['theme'] = name), theme);
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page.getByText('Say who you are.')).toBeVisible();
    expect(await faultsOf(page, `sign-in, ${theme}`, 'all')).toEqual([]);
    await page.getByRole('button', { name: 'I was given a code' }).click();
    expect(await faultsOf(page, `code, ${theme}`, 'all')).toEqual([]);
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(shop.url);
  await signInAt(page, 'ines');
  await expect(page.getByRole('navigation', { name: 'Views' })).toBeVisible();
  await page.goto(`${shop.url}/me`);
  await expect(page.getByRole('heading', { name: 'Programs that act for you' })).toBeVisible();
  await page.getByRole('button', { name: 'Use one-time codes' }).click();
  await expect(page.getByRole('img', { name: 'The secret as a picture for the app' })).toBeVisible();
  expect(await faultsOf(page, 'me', 'all')).toEqual([]);
  await page.context().clearCookies();
  await page.getByRole('button', { name: 'Make a token' }).waitFor();
  await page.getByLabel('Name of the program').fill('board');
  await page.getByRole('button', { name: 'Make a token' }).click();
  await expect(page.getByRole('heading', { name: 'You have been signed out' })).toBeVisible();
  expect(await faultsOf(page, 'signed out', 'all')).toEqual([]);
});
