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

test.each([['0.0.0.0'], ['::'], ['192.168.1.5'], ['shop.example'], ['127.0.0.2'], ['127.0.0.1.example'], ['']])(
  '--host %p is refused as long as there is no sign-in',
  (host) => {
    expect(why('--host', host)).toMatch(/there is no sign-in yet/);
  },
);

test('an option that is not known is named, with those that are', () => {
  expect(why('--speed', '60')).toMatch(/--speed[\s\S]*--rate N/);
});
