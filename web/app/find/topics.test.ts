import index from './fieldIndex.json';
import { fields } from './fields.ts';
import { topics } from './topics.ts';

const FIRSTS = { printerId: 'p', queueId: 'q', stockId: 's', spoolId: 'sp', keptId: 'k' };

test('every topic leads to a field that can be read somewhere', () => {
  const labels = index.map(({ label }) => label.toLowerCase());
  const astray = topics(FIRSTS).filter(({ field }) => !labels.some((label) => label.startsWith(field.toLowerCase())));
  expect(astray.map(({ name, field }) => `${name}: ${field}`)).toEqual([]);
});

test('a field is in the place where it was read, filled with what the shop has; where it has none, the view is opened', () => {
  const all = fields({
    printer: 'heron',
    queue: 'q',
    stock: 's',
    preset: 'x',
    spool: 'sp',
    run: 'run-1',
    job: 'j',
    shelved: 'k',
    person: 'ines',
  });
  expect(all).toHaveLength(index.length);
  expect(all.filter(({ path }) => /[{}]/.test(path))).toEqual([]);
  expect(all.find(({ label }) => label === 'Free-hang length')).toMatchObject({
    path: '/setup?printer=heron',
    under: 'Setup, printer',
  });
  expect(all.find(({ label }) => label === 'Trace code')).toMatchObject({ path: '/bench/run-1', open: ['Marks'] });
  const none = fields({
    printer: 'heron',
    queue: 'q',
    stock: 's',
    preset: 'x',
    spool: 'sp',
    run: undefined,
    job: 'j',
    shelved: undefined,
    person: undefined,
  });
  expect(none.find(({ label }) => label === 'Trace code')?.path).toBe('/bench');
  expect(none.find(({ label }) => label === 'Pieces by number')?.path).toBe('/shelf');
});
