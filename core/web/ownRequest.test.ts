import fc from 'fast-check';
import { foreignRequest } from './ownRequest.ts';

const PORT = 4780;
const at = (host: string | undefined, origin?: string): string | undefined => foreignRequest({ host, origin }, [PORT]);

test.each(['127.0.0.1:4780', 'localhost:4780', '[::1]:4780', 'LOCALHOST:4780'])('%s is this server', (host) => {
  expect(at(host)).toBeUndefined();
  expect(at(host, `http://${host}`)).toBeUndefined();
});

test.each([
  undefined,
  '',
  '127.0.0.1',
  '127.0.0.1:4781',
  'localhost',
  'evil.example:4780',
  'localhost.evil.example:4780',
  '127.0.0.1.evil.example:4780',
  'evil.example@127.0.0.1:4780',
  '[::1]',
  '0.0.0.0:4780',
])('%s is another host', (host) => {
  expect(at(host)).toBe('host');
});

test.each([
  'null',
  'http://evil.example',
  'http://127.0.0.1',
  'http://127.0.0.1:4781',
  'https://localhost',
  'file://127.0.0.1:4780',
  'http://evil.example@127.0.0.1:4780',
  'http://127.0.0.1:4780/path',
])('a page of %s is another site', (origin) => {
  expect(at('127.0.0.1:4780', origin)).toBe('origin');
});

test('names that are listed count with any port, or with the one that is written', () => {
  const names = ['Shop.Example', 'print.local:8080', ' '];
  const on = (host: string, origin?: string) => foreignRequest({ host, origin }, [PORT], names);
  expect(on('shop.example')).toBeUndefined();
  expect(on('shop.example:443', 'https://shop.example')).toBeUndefined();
  expect(on('print.local:8080')).toBeUndefined();
  expect(on('print.local:80')).toBe('host');
  expect(on('not-shop.example')).toBe('host');
  expect(on(' ')).toBe('host');
});

test('whatever a host is called, only its own names and port are let in', () => {
  fc.assert(
    fc.property(fc.string(), (host) => {
      const own = ['127.0.0.1:4780', 'localhost:4780', '[::1]:4780'].includes(host.toLowerCase());
      expect(at(host) === undefined).toBe(own);
    }),
  );
});
