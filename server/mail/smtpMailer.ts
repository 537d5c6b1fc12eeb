import { type SMTPTransportOptions, createTransport } from 'nodemailer';
import type { Mail, MailServer, Mailer } from '../ports/mailer.ts';

/** A server that doesn't answer within this is tried again later (ms). */
const PATIENCE_MS = 20_000;
const FROM = 'Yellow Spool <yellow-spool@localhost>';

/** Mail by SMTP. */
export class SmtpMailer implements Mailer {
  /** @param standInPort where the mail stand-in of the demo listens; undefined: there is none */
  constructor(private readonly standInPort: () => Promise<number | undefined>) {}

  async send(server: MailServer, { to, subject, text, html, attachments = [], id }: Mail): Promise<void> {
    const transport = createTransport({ ...(await this.place(server)), ...PATIENCE });
    try {
      await transport.sendMail({
        from: server.kind === 'smtp' ? server.from : FROM,
        ...{ to, subject, text, messageId: `<${id}@yellow-spool>` },
        ...(html === undefined ? {} : { html }),
        attachments: attachments.map(({ name, bytes }) => ({ filename: name, content: Buffer.from(bytes) })),
      });
    } finally {
      transport.close();
    }
  }

  private async place(server: MailServer): Promise<SMTPTransportOptions> {
    if (server.kind === 'smtp') {
      const { host, port, tls: secure, user, password: pass } = server;
      return { host, port, secure, ...(user === '' ? {} : { auth: { user, pass } }) };
    }
    const port = await this.standInPort();
    if (port === undefined) throw new Error('the mail stand-in does not run');
    return { host: '127.0.0.1', port };
  }
}

const PATIENCE = {
  connectionTimeout: PATIENCE_MS,
  greetingTimeout: PATIENCE_MS,
  socketTimeout: PATIENCE_MS,
  // Nothing is fetched for a message: it holds all that it shows.
  ...{ disableFileAccess: true, disableUrlAccess: true },
};
