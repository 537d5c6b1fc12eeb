import sharp from 'sharp';
import type { CheckPlotView, HeadsView, PlotReadingView } from '../../../../contract/api/heads.ts';
import { type TestHttp, openTestHttp } from '../../../testing/httpFixture.ts';
import { switchOn } from '../../../testing/shopFixture.ts';

let http: TestHttp;
beforeAll(async () => {
  http = await openTestHttp();
  switchOn(http.shop);
});
afterAll(() => http.close());

interface Answer {
  readonly status: number;
  readonly body: PlotReadingView & { readonly error: { readonly code: string; readonly message: string } };
}

async function read(printerId: string, ...files: Buffer[]): Promise<Answer> {
  const form = new FormData();
  files.forEach((file, i) => {
    form.append('file', new Blob([new Uint8Array(file)]), `picture-${String(i)}.png`);
  });
  const answer = await fetch(`${http.base}/api/printers/${printerId}/check-plot/read`, { method: 'POST', body: form });
  return { status: answer.status, body: (await answer.json()) as Answer['body'] };
}

async function picture(printerId: string, dpi: number): Promise<Buffer> {
  const answer = await fetch(`${http.base}/api/printers/${printerId}/check-plot.png?dpi=${String(dpi)}`);
  expect(answer.status).toBe(200);
  return Buffer.from(await answer.arrayBuffer());
}

/** The plot with some lines covered by bare media. */
async function without(
  file: Buffer,
  dpi: number,
  lines: readonly CheckPlotView['channels'][number]['nozzles'][number][],
): Promise<Buffer> {
  const scale = dpi / 25.4;
  const patches = lines.map(({ xMm, yMm, lengthMm, thicknessMm }) => ({
    input: {
      create: {
        width: Math.ceil((lengthMm + 0.2) * scale),
        height: Math.ceil((thicknessMm + 0.2) * scale),
        channels: 3 as const,
        background: '#ffffff',
      },
    },
    left: Math.floor((xMm - 0.1) * scale),
    top: Math.floor((yMm - 0.1) * scale),
  }));
  return sharp(file).composite(patches).png().toBuffer();
}

test('the plot says where each nozzle draws; its picture has the size that its resolution says, and is read', async () => {
  const { body: plot } = await http.call<CheckPlotView>('GET', '/api/printers/magpie/check-plot');
  const cyan = plot.channels.find(({ id }) => id === 'cyan');
  const white = plot.channels.find(({ id }) => id === 'white');
  expect(cyan?.nozzles).toHaveLength(360);
  // White has two heads: numbers go on over both.
  expect(white?.nozzles).toHaveLength(720);
  expect(white?.nozzles[360]).toMatchObject({ head: 1, n: 360, lengthMm: 4 });
  expect(plot.marks).toHaveLength(plot.blocks.length * 4);
  const file = await picture('magpie', 300);
  expect(await sharp(file).metadata()).toMatchObject({
    width: Math.round((plot.widthMm / 25.4) * 300),
    height: Math.round((plot.heightMm / 25.4) * 300),
    density: 300,
  });
  const gone = [7, 100, 359].flatMap((n) => cyan?.nozzles[n] ?? []);
  const { status, body } = await read('magpie', await without(file, 300, gone));
  expect(status).toBe(200);
  expect(
    body.channels.map(({ id, missing, weak, crooked, unjudged }) => [id, missing, weak, crooked, unjudged]),
  ).toEqual(
    ['cyan', 'magenta', 'yellow', 'black', 'white'].map((id) => [id, id === 'cyan' ? [7, 100, 359] : [], [], [], []]),
  );
  expect(body.confidence).toBe(1);
});

test('a picture that is too coarse is not judged; one of something else, or none, is refused with a way out', async () => {
  const coarse = await read('magpie', await picture('magpie', 150));
  expect(coarse.body.confidence).toBeNull();
  expect(coarse.body.channels.every(({ missing, unjudged }) => missing.length === 0 && unjudged.length > 0)).toBe(true);
  const other = await sharp({ create: { width: 800, height: 600, channels: 3, background: '#ccc' } })
    .png()
    .toBuffer();
  expect(await read('magpie', other)).toMatchObject({ status: 422, body: { error: { code: 'no-plot' } } });
  expect(await read('magpie', Buffer.from('hello'))).toMatchObject({
    status: 422,
    body: { error: { code: 'no-picture' } },
  });
  expect(await read('magpie')).toMatchObject({ status: 422, body: { error: { code: 'no-picture' } } });
  expect(await read('nobody', other)).toMatchObject({ status: 404 });
});

test('a plot of another printer is told by its code, and not read as this one’s', async () => {
  // Wren has as many nozzles as Magpie: by its marks alone it would be taken for it.
  expect(await read('magpie', await picture('wren', 300))).toMatchObject({
    status: 422,
    body: { error: { code: 'other-printer', message: 'That is a check plot of Wren, not of Magpie.' } },
  });
});

test('a plot that would have more pixels than a picture can is refused with the most that it can', async () => {
  const answer = await http.call<Answer['body']>('GET', '/api/printers/gannet/check-plot.png?dpi=1200');
  expect(answer).toMatchObject({ status: 422, body: { error: { code: 'too-many-pixels' } } });
  expect(answer.body.error.message).toMatch(/The plot of Gannet has \d+ × \d+ pixels at 1200 dpi/);
});

test('the plot as page has a separation for each channel', async () => {
  const answer = await fetch(`${http.base}/api/printers/wren/check-plot.pdf`);
  expect(answer.headers.get('content-type')).toContain('application/pdf');
  const text = Buffer.from(await answer.arrayBuffer()).toString('latin1');
  expect(text.startsWith('%PDF-')).toBe(true);
});

test('heads of all printers, of one, and the curve of a channel; a reading that a person takes shows in them', async () => {
  const { body: all } = await http.call<HeadsView[]>('GET', '/api/heads');
  expect(all.map(({ name }) => name)).toEqual(['Heron', 'Magpie', 'Bittern', 'Wren', 'Puffin', 'Gannet']);
  const found = { cyan: { missing: [3, 48, 93], weak: [9], crooked: [], unjudged: [] } };
  const taken = await http.call<{ id: string }>('POST', '/api/printers/magpie/reading', {
    by: 'photo',
    confidence: 0.99,
    found,
  });
  expect(taken.status).toBe(201);
  expect((await http.call('GET', `/api/checks/${taken.body.id}`)).body).toMatchObject({ by: 'photo', found });
  const { body: magpie } = await http.call<HeadsView>('GET', '/api/printers/magpie/heads');
  expect(magpie.channels[0]).toMatchObject({ id: 'cyan', counts: { missing: 3, weak: 1, crooked: 0 } });
  // Label, 8 passes of 360 with 4 interlaces: classes of two.
  expect(magpie.modes.map(({ name, unfit }) => [name, unfit.map(({ channelId }) => channelId)])).toContainEqual([
    'Window',
    [],
  ]);
  const { body: curve } = await http.call('GET', '/api/printers/magpie/heads/cyan/curve');
  expect(curve).toMatchObject({ seen: false, spells: 0 });
  const again = { by: 'eye', confidence: null, found: { cyan: { ...found.cyan, missing: [] } } };
  expect((await http.call('POST', `/api/checks/${taken.body.id}/reading`, again)).status).toBe(200);
  const care = { action: 'light', channelIds: ['cyan'], check: true };
  expect((await http.call('POST', '/api/printers/magpie/heads/care', care)).status).toBe(200);
});
