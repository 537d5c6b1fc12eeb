/*
 * What sign-in costs: a plain question of somebody who has signed in beside one of whoever is at this machine, and the same question
 * while twenty people sign in at once. Usage: npm run bench:signIn
 */
import { addPerson, haveSignIn, passwordOf } from '../e2e/driver/people.ts';
import { TestShop } from '../e2e/driver/shop.ts';

const ASKED = 1500;
const PLAIN = '/api/storage';

interface Times {
  readonly median: number;
  readonly p95: number;
}

const shop = await TestShop.open();

async function ask(headers: Readonly<Record<string, string>>, goOn: (asked: number) => boolean): Promise<Times> {
  const times: number[] = [];
  while (goOn(times.length)) {
    const from = performance.now();
    const answer = await fetch(shop.url + PLAIN, { headers });
    await answer.arrayBuffer();
    if (!answer.ok) throw new Error(`${PLAIN}: ${String(answer.status)}`);
    times.push(performance.now() - from);
  }
  times.sort((a, b) => a - b);
  const at = (share: number): number => times[Math.floor(share * times.length)] ?? Number.NaN;
  return { median: at(0.5), p95: at(0.95) };
}

function row(name: string, times: Times, base: Times): void {
  const ratio = (a: number, b: number): string => (a / b).toFixed(2);
  process.stdout.write(
    `${name.padEnd(34)} median ${times.median.toFixed(2)} ms (${ratio(times.median, base.median)}), p95 ${times.p95.toFixed(2)} ms (${ratio(times.p95, base.p95)})\n`,
  );
}

const enough = (asked: number): boolean => asked < ASKED;

try {
  await ask({}, enough);
  const off = await ask({}, enough);
  await haveSignIn(shop);
  const { token } = await shop.send<{ token: string }>('POST', '/api/me/tokens', {
    name: 'bench',
    scope: 'see',
    days: 1,
  });
  const byCookie = await ask(shop.headers, enough);
  const byToken = await ask({ authorization: `Bearer ${token}` }, enough);
  const names = Array.from({ length: 20 }, (_, i) => `person${String(i)}`);
  for (const name of names) await addPerson(shop, `Person ${name}`, 'operator', name);
  let under = names.length;
  const signIns = names.map(async (name) => {
    const from = performance.now();
    const answer = await fetch(`${shop.url}/api/sign-in`, {
      method: 'POST',
      headers: { origin: shop.url, 'content-type': 'application/json' },
      body: JSON.stringify({ name, password: passwordOf(name) }),
    });
    under -= 1;
    return { status: answer.status, ms: performance.now() - from };
  });
  const meanwhile = await ask(shop.headers, () => under > 0);
  const signedIn = (await Promise.all(signIns)).filter(({ status }) => status === 200);
  row('nobody has to sign in', off, off);
  row('by the cookie of a session', byCookie, off);
  row('by a token', byToken, off);
  row('by a cookie, while 20 sign in', meanwhile, off);
  process.stdout.write(
    `${String(signedIn.length)} of 20 signed in at once, the last after ${Math.max(...signedIn.map(({ ms }) => ms)).toFixed(0)} ms\n`,
  );
} finally {
  await shop.close();
}
