import { BadOption, readOptions } from './options.ts';

const read = (...args: string[]) => readOptions(args, '/home/odile', '/app/dist');
const why = (...args: string[]): string => {
  try {
    read(...args);
  } catch (error) {
    if (error instanceof BadOption) return error.message;
    throw error;
  }
  return 'was taken';
};

test('nothing said: beside the program, on this machine, at the speed it had', () => {
  expect(read()).toEqual({
    data: '/app/data',
    dist: '/app/dist',
    port: 4780,
    host: '127.0.0.1',
    rate: undefined,
    empty: false,
    crew: true,
    publicUrl: undefined,
    trustedHops: 0,
    certificate: undefined,
    signIn: undefined,
    ownerCode: false,
  });
  expect(read('--no-crew').crew).toBe(false);
});

test('a relative folder is meant from where the person stands', () => {
  expect(read('--data', 'shop').data).toBe('/home/odile/shop');
  expect(read('--data', '/srv/shop', '--port', '0', '--rate', '0.5', '--empty')).toMatchObject({
    data: '/srv/shop',
    port: 0,
    rate: 0.5,
    empty: true,
  });
  for (const host of ['localhost', '127.0.0.1', '::1']) expect(read('--host', host).host).toBe(host);
});

test.each([['abc'], ['-1'], ['3601'], ['NaN'], ['Infinity'], [''], [' '], ['6 0']])(
  '--rate %p is refused and never stored',
  (rate) => {
    expect(why(`--rate=${rate}`)).toContain("is no speed of the shop's time");
  },
);

test.each([['abc'], ['-1'], ['65536'], ['80.5'], ['']])('--port %p is refused', (port) => {
  expect(why(`--port=${port}`)).toContain('is no port');
});

test.each([['shop.example'], ['127.0.0.1.example'], ['192.168.1'], ['']])('--host %p is refused', (host) => {
  expect(why('--host', host)).toContain('is no address of a machine');
});

test('how it is reached from elsewhere is taken as it is meant', () => {
  for (const host of ['0.0.0.0', '::', '192.0.2.7']) expect(read('--host', host).host).toBe(host);
  expect(read('--public', 'https://print.example/').publicUrl).toBe('https://print.example');
  expect(read('--trust-proxy', '2').trustedHops).toBe(2);
  expect(read('--cert', 'tls/shop.pem', '--key', '/etc/shop.key').certificate).toEqual({
    cert: '/home/odile/tls/shop.pem',
    key: '/etc/shop.key',
  });
  expect([read('--sign-in').signIn, read('--no-sign-in').signIn]).toEqual([true, false]);
});

test.each([
  ['--public', 'print.example'],
  ['--public', 'https://print.example/shop'],
  ['--public', 'ftp://print.example'],
  ['--trust-proxy', '-1'],
  ['--trust-proxy', '11'],
  ['--cert', 'shop.pem'],
  ['--key', 'shop.key'],
])('%s %s is refused', (option, value) => {
  expect(why(`${option}=${value}`)).toMatch(/--public .* is no address|--trust-proxy .* is no number|takes two files/);
});

test('an option that is not known is named, with those that are', () => {
  expect(why('--speed', '60')).toMatch(/--speed[\s\S]*--rate N/);
});
