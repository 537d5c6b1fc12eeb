import { readFile, rm } from 'node:fs/promises';
import multer from 'multer';
import { Type } from 'typebox';
import { ProfileView } from '../../../contract/api/colour/profile.ts';
import { Refused, type Shop } from '../../shop.ts';
import { profileViews, putProfileBack, takeProfile } from '../../usecases/setup/profiles.ts';
import { type Route, route } from '../route.ts';

/** Large ones have some megabytes. */
const PROFILE_BYTES = 32 * 1024 ** 2;

/** Profiles by which modes print. */
export function profileRoutes(shop: Shop): Route[] {
  const upload = multer({ dest: shop.paths.uploads, limits: { fileSize: PROFILE_BYTES, files: 1, fields: 2 } }).any();
  return [
    route({
      method: 'get',
      path: '/api/profiles',
      needs: 'see',
      summary: 'ICC profiles of printers, and the modes that ask for each',
      answer: Type.Array(ProfileView),
      handle: () => profileViews(shop.db),
    }),
    route({
      method: 'put',
      path: '/api/profiles/:name',
      needs: 'set up',
      summary: 'Takes in the ICC profile that modes ask for by this name; one that was there is replaced',
      multipart: Type.Object({ file: Type.Unsafe<unknown>({ type: 'string', format: 'binary' }) }),
      answer: ProfileView,
      receive: (req, res) =>
        new Promise<void>((done, failed) => {
          void upload(req, res, (error: unknown) => {
            if (!error) done();
            else failed(tooMuch(error));
          });
        }),
      handle: async ({ params, req, actor }) => {
        const files = Array.isArray(req.files) ? req.files : [];
        try {
          const [file] = files;
          if (!file) throw new Refused(422, 'no-file', 'No file came along.', undefined, 'Send the ICC file.');
          return await takeProfile(shop, params.name ?? '', await readFile(file.path), actor);
        } finally {
          await Promise.all(files.map(({ path }) => rm(path, { force: true })));
        }
      },
    }),
    route({
      method: 'post',
      path: '/api/profiles/:name/put-back',
      needs: 'set up',
      summary: 'Changes a profile for the one that it replaced last',
      answer: ProfileView,
      handle: ({ params, actor }) => putProfileBack(shop, params.name ?? '', actor),
    }),
  ];
}

function tooMuch(error: unknown): Error {
  if (!(error instanceof multer.MulterError)) return error instanceof Error ? error : new Error('upload failed');
  return new Refused(
    413,
    'too-large',
    `The profile can't be taken: ${error.code}.`,
    { limit: PROFILE_BYTES },
    'Send one ICC file of at most 32 MB.',
  );
}
