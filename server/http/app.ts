import type { AnswerHow } from './route.ts';
import { type Route, mount, signInFirst } from './route.ts';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import type { ErrorBody, ErrorDetail } from '../../contract/api/common.ts';
import { Refused, type Shop } from '../shop.ts';
import { unknownApi } from './routes/floorRoutes.ts';
import { openApi } from './openapi.ts';
import { onlyOwnPages } from './ownPages.ts';
import { callerOf, isFromOwnPage } from './identify.ts';
import { isDeviceLink } from '../usecases/device/deviceLink.ts';
import { hostNames } from '../usecases/setup/shopSetup.ts';

const JSON_LIMIT = '32mb';
/** Of anybody who has not signed in. */
const SMALL_LIMIT = '16kb';
const YEAR_S = 365 * 24 * 3600;

/** How the server is reached. */
export interface Face {
  /** Where it listens: the port for people, and one for programs of this machine where that is another. */
  readonly ports: () => readonly number[];
  /** Further names and addresses of this machine, besides those that only it can use. */
  readonly names: () => readonly string[];
  /** As browsers say where a page comes from: https://print.example. */
  readonly publicOrigin: string | undefined;
  /** Proxies in front of it whose word counts. */
  readonly trustedHops: number;
  /** Whether browsers are told never to ask without TLS again. */
  readonly onlyTls: boolean;
  /** What the demo's crew signs in with. */
  readonly crewToken: string;
}

/**
 * The whole HTTP face: routes, the built pages, and the one place where errors become answers.
 * @param face how it is reached
 * @param how tests compare each answer with its schema, and wait for heavy ones however slow the machine is
 */
export function createApp(
  shop: Shop,
  routes: readonly Route[],
  webDir: string,
  face: Face,
  how: AnswerHow = {},
): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', false);
  app.set('trust proxy', face.trustedHops);
  app.use((_req, res, next) => {
    (res.locals as PageLocals).nonce = randomBytes(16).toString('base64');
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          scriptSrcAttr: ["'none'"],
          connectSrc: ["'self'"],
          fontSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          // Charts bring style elements of their own, which the page hands its nonce to.
          styleSrc: ["'self'", (_req, res) => `'nonce-${nonceOf(res as Response)}'`],
          // Drawings are placed through style attributes.
          styleSrcAttr: ["'unsafe-inline'"],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          mediaSrc: ["'none'"],
          frameSrc: ["'none'"],
          manifestSrc: ["'self'"],
          frameAncestors: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
        },
      },
      strictTransportSecurity: face.onlyTls ? { maxAge: YEAR_S, includeSubDomains: false } : false,
    }),
  );
  app.use(pinoHttp({ logger: shop.log, autoLogging: false }));
  app.use(onlyOwnPages(face.ports, () => [...face.names(), ...namesInSetup(shop)]));
  app.use('/api', (_req, res, next) => {
    // What the shop knows is for whoever has signed in: no cache between keeps it. Pictures say otherwise of themselves.
    res.set('cache-control', 'no-store');
    next();
  });
  app.get('/api/openapi.json', (req, res) => {
    if (!callerOf(shop, req, face.crewToken)) throw signInFirst();
    res.json(openApi(routes));
  });
  mount(app, routes, {
    callerOf: (req) => callerOf(shop, req, face.crewToken),
    isFromOwnPage: (req) => isFromOwnPage(req, face.publicOrigin),
    isDeviceLink: (req) => isDeviceLink(shop, req.originalUrl),
    readBody: bodyReader(),
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

/** Reads a body of JSON: a large one of people who were let in, a small one of anybody. */
function bodyReader(): (req: Request, res: Response, small: boolean) => Promise<void> {
  const large = express.json({ limit: JSON_LIMIT });
  const little = express.json({ limit: SMALL_LIMIT });
  return (req, res, small) =>
    new Promise((done, failed) => {
      (small ? little : large)(req, res, (error?: Error) => {
        if (error === undefined) done();
        else failed(error);
      });
    });
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
  // It does not change while the server runs: read once, as soon as it is there.
  let page: string | undefined;
  app.get('/{*path}', (_req, res, next) => {
    const index = join(webDir, 'index.html');
    if (page === undefined && !existsSync(index)) {
      next(new Refused(503, 'not-built', 'The pages are not built yet.', undefined, 'Run npm start.'));
      return;
    }
    page ??= readFileSync(index, 'utf8');
    res.set('cache-control', 'no-cache');
    res.type('html').send(page.replace(NONCE_PLACE, nonceOf(res)));
  });
}

/** Where the page says what its style elements have to carry. */
const NONCE_PLACE = '__STYLE_NONCE__';

interface PageLocals {
  nonce?: string;
}

function nonceOf({ locals }: Response): string {
  return (locals as PageLocals).nonce ?? '';
}

interface HttpError {
  readonly status?: number;
  readonly type?: string;
  readonly code?: string;
  readonly field?: string;
  /** Bytes that a body may have. */
  readonly limit?: number;
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
    if (status === 403) shop.log.warn({ code, method: req.method, url: req.path, address: req.ip }, message);
    return {
      status,
      error: { code, message, ...(figures ? { figures } : {}), ...(remedy === undefined ? {} : { remedy }) },
    };
  }
  shop.log.error({ err: error, url: req.path }, 'a request failed');
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
  if (error.type === 'entity.too.large') {
    const { limit: most = 0 } = error;
    return new Refused(413, 'too-large', `The request is larger than ${String(Math.round(most / 1024))} kB.`, { most });
  }
  if (error.type === 'entity.parse.failed') return new Refused(400, 'bad-json', 'The request is not valid JSON.');
  if (error.status === 404) return new Refused(404, 'not-found', 'There is nothing here.');
  if (error.status !== undefined && error.status >= 400 && error.status < 500)
    return new Refused(400, 'bad-request', error.message);
  return undefined;
}
