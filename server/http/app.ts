import type { AnswerHow } from './route.ts';
import { type Route, mount } from './route.ts';
import { COORDINATOR } from '../../core/events/actor.ts';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import type { ErrorBody, ErrorDetail } from '../../contract/api/common.ts';
import { Refused, type Shop } from '../shop.ts';
import { unknownApi } from './routes/floorRoutes.ts';
import { openApi } from './openapi.ts';
import { onlyOwnPages } from './ownPages.ts';
import { hostNames } from '../usecases/setup/shopSetup.ts';

const JSON_LIMIT = '32mb';

/**
 * The whole HTTP face: routes, the built pages, and the one place where errors become answers.
 * @param how tests compare each answer with its schema, and wait for heavy ones however slow the machine is
 */
export function createApp(
  shop: Shop,
  routes: readonly Route[],
  webDir: string,
  port: () => number,
  how: AnswerHow = {},
): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', false);
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          // The drawing library sets positions through style attributes.
          styleSrc: ["'self'", "'unsafe-inline'"],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(pinoHttp({ logger: shop.log, autoLogging: false }));
  app.use(onlyOwnPages(port, () => namesInSetup(shop)));
  app.use(express.json({ limit: JSON_LIMIT }));
  app.get('/api/openapi.json', (_req, res) => {
    res.json(openApi(routes));
  });
  // Without sign-in, whoever is at a page of this machine is the coordinator.
  mount(app, routes, {
    actorOf: () => COORDINATOR,
    work: shop.work,
    explain: (error, req) => explain(error, req, shop),
    ...how,
  });
  app.use('/api', (req) => {
    throw unknownApi(req.originalUrl);
  });
  pages(app, webDir);
  app.use(answerError(shop));
  return app;
}

/** While the database can't be read, this machine's own names are enough. */
function namesInSetup({ db }: Shop): readonly string[] {
  try {
    return hostNames(db);
  } catch {
    return [];
  }
}

function pages(app: Express, webDir: string): void {
  app.use('/assets', express.static(join(webDir, 'assets'), { immutable: true, maxAge: '365d', fallthrough: false }));
  app.use(express.static(webDir, { index: false, maxAge: 0 }));
  app.get('/{*path}', (_req, res, next) => {
    const index = join(webDir, 'index.html');
    if (!existsSync(index)) {
      next(new Refused(503, 'not-built', 'The pages are not built yet.', undefined, 'Run npm start.'));
      return;
    }
    res.set('cache-control', 'no-cache');
    res.sendFile(index, { dotfiles: 'allow' });
  });
}

interface HttpError {
  readonly status?: number;
  readonly type?: string;
  readonly code?: string;
  readonly field?: string;
}

function answerError(shop: Shop) {
  return (error: Error & HttpError, req: Request, res: Response, next: NextFunction): void => {
    if (res.headersSent) {
      next(error);
      return;
    }
    const { status, error: detail } = explain(error, req, shop);
    res.status(status).json({ error: detail } satisfies ErrorBody);
  };
}

/** An error as people are told of it, at once or by a task. What nobody has foreseen is logged. */
function explain(error: unknown, req: Request, shop: Shop): { readonly status: number; readonly error: ErrorDetail } {
  const refused = asRefused(error as Error & HttpError, shop);
  if (refused) {
    const { status, code, message, figures, remedy } = refused;
    return {
      status,
      error: { code, message, ...(figures ? { figures } : {}), ...(remedy === undefined ? {} : { remedy }) },
    };
  }
  shop.log.error({ err: error, url: req.originalUrl }, 'a request failed');
  const message = 'Something failed inside the program. Nothing was changed; the log says more.';
  return { status: 500, error: { code: 'internal', message } };
}

/**
 * An error as a refusal that a person can do something with; undefined where it is a fault of the program, which is logged and
 * not told in detail.
 */
function asRefused(error: Error & HttpError, shop: Shop): Refused | undefined {
  if (error instanceof Refused) return error;
  if (shop.storage.noticed(error)) {
    const { state, text, remedy, freeBytes } = shop.storage.view();
    const what = `Nothing was changed. ${text ?? 'It could not be written down.'}`;
    return new Refused(503, `storage-${state}`, what, { freeBytes }, remedy ?? undefined);
  }
  if (error.code === 'LIMIT_FILE_SIZE') {
    return new Refused(413, 'too-large', `A file is larger than ${String(shop.limits.fileBytes / 1024 ** 3)} GiB.`);
  }
  if (error.code?.startsWith('LIMIT_'))
    return new Refused(413, 'too-many', `The request was refused: ${error.message} (${error.field ?? ''}).`);
  if (error.type === 'entity.too.large')
    return new Refused(413, 'too-large', `The request is larger than ${JSON_LIMIT}.`);
  if (error.type === 'entity.parse.failed') return new Refused(400, 'bad-json', 'The request is not valid JSON.');
  if (error.status === 404) return new Refused(404, 'not-found', 'There is nothing here.');
  if (error.status !== undefined && error.status >= 400 && error.status < 500)
    return new Refused(400, 'bad-request', error.message);
  return undefined;
}
