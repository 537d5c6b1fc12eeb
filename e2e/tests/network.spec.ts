import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, test } from '@playwright/test';
import { passwordOf } from '../driver/people.ts';
import { SERVER_ADDRESS, TestNetwork } from '../driver/network.ts';

test('first start on a network address: nobody gets in without the code that the server printed; its owner does, from another machine', async () => {
  const network = await TestNetwork.open('--host', '0.0.0.0', '--port', '4780');
  try {
    await expect.poll(() => network.printed()).toContain('with this code');
    // As it is typed on another machine.
    const address = `http://${SERVER_ADDRESS}:4780`;
    expect(network.printed()).toContain(`Yellow Spool is at ${address}`);
    expect(network.printed()).toContain('Without a certificate passwords can be read on the way here.');
    const code = /^ {2}((?:[a-z0-9]{5}-){3}[a-z0-9]{5})$/m.exec(network.printed())?.[1] ?? '';
    const browser = await network.browser();
    const page = await browser.newPage();
    await page.goto(address);
    await expect(page.getByRole('heading', { name: 'Become the owner of this shop' })).toBeVisible();
    expect(await page.evaluate(async () => (await fetch('/api/printers')).status)).toBe(401);
    await page.getByLabel('The code that the server has printed').fill('aaaaa-bbbbb-ccccc-ddddd');
    await page.getByLabel('Your name, as others see it').fill('Odile Marr');
    await page.getByLabel('Name to sign in with').fill('odile');
    await page.getByLabel('Password', { exact: true }).fill(passwordOf('odile'));
    await page.getByLabel('The same once more').fill(passwordOf('odile'));
    await page.getByRole('button', { name: 'Become the owner' }).click();
    await expect(page.getByRole('alert')).toContainText('This is not the code that the server printed');
    await page.getByLabel('The code that the server has printed').fill(code.toUpperCase());
    await page.getByRole('button', { name: 'Become the owner' }).click();
    await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
    await expect(page.getByText('live', { exact: true })).toBeVisible();
    // The printers' stand-ins are on the server's machine: nobody else reaches them.
    await expect(page.getByText('idle').first()).toBeVisible();
    await page.goto(`${address}/setup?people=`);
    await page.getByRole('button', { name: 'Nobody has to sign in on this machine' }).click();
    await expect(
      page.getByText('People have to sign in as long as other machines can reach the shop: it listens on 0.0.0.0.'),
    ).toBeVisible();
    await browser.close();
  } finally {
    await network.close();
  }
});

test('without sign-in the server does not start where other machines could reach it', async () => {
  const data = await mkdtemp(join(tmpdir(), 'yellow-spool-alone-'));
  for (const [args, why] of [
    [['--host', '0.0.0.0'], 'it listens on 0.0.0.0'],
    [['--public', 'https://print.example'], 'its public address is https://print.example'],
    [['--trust-proxy', '1'], 'it stands behind a proxy'],
  ] as const) {
    const child = spawn(process.execPath, [
      resolve('dist/server/main.mjs'),
      '--empty',
      '--data',
      data,
      '--port',
      '0',
      '--no-sign-in',
      ...args,
    ]);
    let said = '';
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    const code = await new Promise((done) => child.once('exit', done));
    expect([code, said]).toEqual([1, expect.stringContaining(why)]);
  }
  await rm(data, { recursive: true, force: true });
});
