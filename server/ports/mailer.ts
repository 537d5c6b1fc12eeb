/** Where mail goes out: a server that a person entered, or the stand-in of the demo. */
export type MailServer =
  | {
      readonly kind: 'smtp';
      readonly host: string;
      readonly port: number;
      /** TLS from the first byte; else it is asked for. */
      readonly tls: boolean;
      readonly user: string;
      readonly password: string;
      readonly from: string;
    }
  | { readonly kind: 'stand-in' };

export interface Mail {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html?: string;
  readonly attachments?: readonly { readonly name: string; readonly bytes: Uint8Array }[];
  /** The same message is known by it, should it come twice. */
  readonly id: string;
}

export interface Mailer {
  /** @throws where the server can't be reached or refuses it */
  send(server: MailServer, mail: Mail): Promise<void>;
}
