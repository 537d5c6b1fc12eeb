import { FileAnswer, type Route, route } from '../route.ts';
import { promisify } from 'node:util';
import { type Zippable, strToU8, zip } from 'fflate';
import { RunCutsQuery, type RunDetail, RunPictureQuery } from '../../../contract/api/run.ts';
import { runDetail } from '../../db/runViews.ts';
import { cutDxf, cutSvg } from '../../render/out/cutFiles.ts';
import { Refused, type Shop } from '../../shop.ts';
import { cutsOfRun, cutsOfSheets } from '../../usecases/output/runCuts.ts';
import { ensurePdf, runPng } from '../../usecases/output/runPdf.ts';
import { runSheet } from '../../usecases/output/runSheet.ts';

function fileStem({ name }: RunDetail): string {
  return name.replace(' ', '-').toLowerCase();
}

function cutsStem(run: RunDetail, sheet?: number): string {
  return `${fileStem(run)}-cuts${sheet === undefined ? '' : `-sheet-${String(sheet)}`}`;
}

const zipped = promisify((files: Zippable, done: (error: Error | null, bytes: Uint8Array) => void) => zip(files, done));

/** What a run can be taken as: PDF, picture, cuts, job sheet. */
export function runFileRoutes(shop: Shop): Route[] {
  const detail = (id: string | undefined): RunDetail => {
    const found = runDetail(shop.db, id ?? '');
    if (!found) throw new Refused(404, 'no-such-run', `There is no run ${id ?? ''}.`);
    return found;
  };
  return [
    route({
      method: 'get',
      path: '/api/runs/:id/pdf',
      needs: 'see',
      byDeviceLink: true,
      summary: 'The run as laid out: one page, artwork as vectors',
      produces: 'application/pdf',
      heavy: 'Laying out the PDF',
      handle: async ({ params, how }) => {
        const run = detail(params.id);
        const { file: path } = await ensurePdf(shop, run.id, how);
        return new FileAnswer('application/pdf', { path }, `${fileStem(run)}.pdf`);
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/cuts.svg',
      needs: 'see',
      summary: 'What is cut of the run, in the frame of the print (mm): contours, trims, cuts across',
      query: RunCutsQuery,
      produces: 'image/svg+xml',
      handle: ({ params, query, res }) => {
        const run = detail(params.id);
        res.type('image/svg+xml');
        res.attachment(`${cutsStem(run, query.sheet)}.svg`);
        res.end(cutSvg(cutsOfRun(shop, run.id, query.sheet)));
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/cuts.dxf',
      needs: 'see',
      summary: 'The same as DXF; y counts upwards there, the leading edge is uppermost',
      query: RunCutsQuery,
      produces: 'image/vnd.dxf',
      handle: ({ params, query, res }) => {
        const run = detail(params.id);
        res.type('image/vnd.dxf');
        res.attachment(`${cutsStem(run, query.sheet)}.dxf`);
        res.end(cutDxf(cutsOfRun(shop, run.id, query.sheet)));
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/cuts.zip',
      needs: 'see',
      summary: 'The cuts of each sheet as SVG and as DXF, each a file of its own',
      produces: 'application/zip',
      handle: async ({ params }) => {
        const run = detail(params.id);
        const files = cutsOfSheets(shop, run.id).flatMap(({ sheetNo, cuts }) => {
          const stem = cutsStem(run, sheetNo);
          return [[`${stem}.svg`, strToU8(cutSvg(cuts))] as const, [`${stem}.dxf`, strToU8(cutDxf(cuts))] as const];
        });
        const bytes = await zipped(Object.fromEntries(files));
        return new FileAnswer('application/zip', { bytes }, `${fileStem(run)}-cuts.zip`);
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/picture',
      needs: 'see',
      summary: 'The run as PNG',
      query: RunPictureQuery,
      produces: 'image/png',
      heavy: 'Drawing the run',
      handle: async ({ params, query, how }) => {
        const run = detail(params.id);
        const bytes = await runPng(shop, run.id, query.dpi, how);
        return new FileAnswer('image/png', { bytes }, `${fileStem(run)}.png`);
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/sheet',
      needs: 'see',
      summary: 'The job sheet of a run: its picture to scale, what is in it, and its code',
      produces: 'application/pdf',
      heavy: 'Making the job sheet',
      handle: async ({ params, how }) => {
        const run = detail(params.id);
        const bytes = await runSheet(shop, run.id, how);
        return new FileAnswer('application/pdf', { bytes }, `${fileStem(run)}-sheet.pdf`);
      },
    }),
  ];
}
