import { createHash, randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { SignJWT, exportJWK, generateKeyPair } from 'jose';

/** Who signs in at the provider next, as it will say. */
export interface Account {
  readonly sub: string;
  readonly email: string;
  readonly email_verified: boolean;
}

/** A sign-in provider as far as a shop needs one: it lets in whom a test says, without a page of its own. */
export interface ProviderStandIn {
  readonly issuer: string;
  account: Account;
  /** Says something else than was asked for: a test that things are looked at. */
  lies: { nonce?: string; aud?: string; iss?: string };
  /** How often it was asked what it can do. */
  discoveries: number;
  readonly close: () => Promise<void>;
}

interface Asked {
  readonly nonce: string;
  readonly challenge: string;
  readonly clientId: string;
  readonly redirect: string;
}

export async function openProviderStandIn(clientSecret: string): Promise<ProviderStandIn> {
  const { publicKey, privateKey } = await generateKeyPair('RS256');
  const jwk = { ...(await exportJWK(publicKey)), kid: 'one', alg: 'RS256', use: 'sig' };
  const asked = new Map<string, Asked>();
  const state: Pick<ProviderStandIn, 'account' | 'lies' | 'discoveries'> = {
    account: { sub: '4711', email: 'odile@tidewrack.example', email_verified: true },
    lies: {},
    discoveries: 0,
  };
  let issuer = '';
  const server = createServer((req, res) => {
    const url = new URL(req.url ?? '/', issuer);
    const json = (status: number, value: unknown): void => {
      res.writeHead(status, { 'content-type': 'application/json' });
      res.end(JSON.stringify(value));
    };
    if (url.pathname === '/.well-known/openid-configuration') {
      state.discoveries += 1;
      json(200, {
        ...{ issuer, authorization_endpoint: `${issuer}/authorize`, token_endpoint: `${issuer}/token` },
        ...{ jwks_uri: `${issuer}/keys`, response_types_supported: ['code'], subject_types_supported: ['public'] },
        ...{ id_token_signing_alg_values_supported: ['RS256'], code_challenge_methods_supported: ['S256'] },
      });
    } else if (url.pathname === '/keys') {
      json(200, { keys: [jwk] });
    } else if (url.pathname === '/authorize') {
      const code = randomUUID();
      const of = (name: string): string => url.searchParams.get(name) ?? '';
      asked.set(code, {
        nonce: of('nonce'),
        challenge: of('code_challenge'),
        clientId: of('client_id'),
        redirect: of('redirect_uri'),
      });
      const back = new URL(of('redirect_uri'));
      back.searchParams.set('code', code);
      back.searchParams.set('state', of('state'));
      res.writeHead(302, { location: back.href });
      res.end();
    } else if (url.pathname === '/token') {
      void textOf(req).then(async (text) => {
        const form = new URLSearchParams(text);
        const known = asked.get(form.get('code') ?? '');
        asked.delete(form.get('code') ?? '');
        const challenge = createHash('sha256')
          .update(form.get('code_verifier') ?? '')
          .digest('base64url');
        const isRight =
          known?.challenge === challenge &&
          known.redirect === form.get('redirect_uri') &&
          (form.get('client_secret') ?? '') === clientSecret;
        if (!known || !isRight) {
          json(400, { error: 'invalid_grant' });
          return;
        }
        const token = new SignJWT({ ...state.account, nonce: state.lies.nonce ?? known.nonce })
          .setProtectedHeader({ alg: 'RS256', kid: 'one' })
          .setIssuer(state.lies.iss ?? issuer)
          .setAudience(state.lies.aud ?? known.clientId)
          .setIssuedAt()
          .setExpirationTime('5m');
        json(200, {
          access_token: randomUUID(),
          token_type: 'Bearer',
          expires_in: 300,
          id_token: await token.sign(privateKey),
        });
      });
    } else json(404, {});
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  issuer = `http://127.0.0.1:${String((server.address() as AddressInfo).port)}`;
  return Object.assign(state, {
    issuer,
    close: () =>
      new Promise<void>((done) => {
        server.closeAllConnections();
        server.close(() => {
          done();
        });
      }),
  });
}

async function textOf(req: AsyncIterable<Buffer>): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of req) chunks.push(chunk);
  return Buffer.concat(chunks).toString();
}
