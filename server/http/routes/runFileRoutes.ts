import { FileAnswer, type Route, route } from '../route.ts';
import { type RunDetail, RunPictureQuery } from '../../../contract/api/run.ts';
import { runDetail } from '../../db/runViews.ts';
import { cutDxf, cutSvg } from '../../render/out/cutFiles.ts';
import { Refused, type Shop } from '../../shop.ts';
import { cutsOfRun } from '../../usecases/output/runCuts.ts';
import { ensurePdf, runPng } from '../../usecases/output/runPdf.ts';
import { runSheet } from '../../usecases/output/runSheet.ts';

function fileStem({ name }: RunDetail): string {
  return name.replace(' ', '-').toLowerCase();
}

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
      produces: 'image/svg+xml',
      handle: ({ params, res }) => {
        const run = detail(params.id);
        res.type('image/svg+xml');
        res.attachment(`${fileStem(run)}-cuts.svg`);
        res.end(cutSvg(cutsOfRun(shop, run.id)));
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/cuts.dxf',
      needs: 'see',
      summary: 'The same as DXF; y counts upwards there, the leading edge is uppermost',
      produces: 'image/vnd.dxf',
      handle: ({ params, res }) => {
        const run = detail(params.id);
        res.type('image/vnd.dxf');
        res.attachment(`${fileStem(run)}-cuts.dxf`);
        res.end(cutDxf(cutsOfRun(shop, run.id)));
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
