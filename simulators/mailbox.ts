import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import type { Express } from 'express';
import escapeHtml from 'escape-html';
import type { AddressInfo } from 'node:net';

/** A mail as the stand-in has taken it. */
export interface TakenMail {
  readonly to: readonly string[];
  readonly from: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string | null;
  readonly atMs: number;
}

/** So many are kept: the latest. */
const KEPT = 200;
const MOST_BYTES = 5 * 1024 * 1024;

/** A mail server that sends nothing on: it takes what it is given and shows it. */
export class Mailbox {
  readonly mails: TakenMail[] = [];
  private readonly server: SMTPServer;

  constructor(private readonly now: () => number) {
    this.server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS', 'AUTH'],
      size: MOST_BYTES,
      onData: (stream, session, done) => {
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('end', () => {
          this.take(
            Buffer.concat(parts),
            session.envelope.rcptTo.map(({ address }) => address),
          ).then(
            () => {
              done();
            },
            (error: unknown) => {
              done(error instanceof Error ? error : new Error(String(error)));
            },
          );
        });
      },
    });
    // Whoever breaks off is no reason to stop.
    this.server.on('error', () => undefined);
  }

  listen(): Promise<void> {
    return new Promise((done) => {
      this.server.listen(0, '127.0.0.1', done);
    });
  }

  get port(): number {
    return (this.server.server.address() as AddressInfo | null)?.port ?? 0;
  }

  close(): void {
    this.server.close(() => undefined);
  }

  private async take(bytes: Buffer, to: readonly string[]): Promise<void> {
    const { subject = '', text = '', html, from } = await PostalMime.parse(bytes);
    this.mails.unshift({ to, from: from?.address ?? '', subject, text, html: html ?? null, atMs: this.now() });
    this.mails.length = Math.min(this.mails.length, KEPT);
  }
}

/** What was sent, for people and for tests. */
export function mailRoutes(app: Express, box: Mailbox): void {
  app.get('/mail/port', (_req, res) => {
    res.json({ port: box.port });
  });
  app.get('/mail.json', (_req, res) => {
    res.json(box.mails);
  });
  app.get('/mail', (_req, res) => {
    res.type('html').send(page(box.mails));
  });
  app.get('/mail/:at/page', (req, res) => {
    const mail = box.mails[Number(req.params.at)];
    res.set('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'");
    res.type('html').send(mail?.html ?? 'no such page');
  });
}

function page(mails: readonly TakenMail[]): string {
  const lines = mails.map(
    ({ to, subject, text, html, atMs }, i) =>
      `<article><h2>${escapeHtml(subject)}</h2><p>${escapeHtml(new Date(atMs).toISOString())} to ${escapeHtml(to.join(', '))}</p><pre>${escapeHtml(text)}</pre>${html === null ? '' : `<p><a href="/mail/${String(i)}/page">As a page</a></p>`}</article>`,
  );
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Mail that was sent</title><style>body{font:15px system-ui;margin:2rem;max-width:46rem}article{border-bottom:1px solid #ccc}h2{font-size:16px}</style><h1>Mail that was sent</h1>${lines.join('') || '<p>Nothing yet.</p>'}</html>`;
}
