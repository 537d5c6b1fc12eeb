import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Me } from '../../contract/api/people.ts';
import { errorText, sendJson } from '../api/client.ts';
import { Button } from '../ui/Button.tsx';
import { CodeForm, OwnerForm, PasswordForm } from './SignInForms.tsx';

/** In place of every view, until somebody has signed in. */
export function SignInPage({ me, onDone }: { readonly me: Me; readonly onDone: () => void }) {
  const isBack = location.pathname === '/sign-in/back';
  const [code, setCode] = useState(() => (location.pathname === '/sign-in/code' ? location.hash.slice(1) : undefined));
  if (isBack) {
    return (
      <Card title="Signing in …">
        <BackFromProvider />
      </Card>
    );
  }
  if (me.ownerWanted) {
    return (
      <Card title="Become the owner of this shop">
        <p className="mb-4 text-soft">
          Nobody can set anything up yet. Owners set up printers, stocks, prices and people; you can add others later.
        </p>
        <OwnerForm withCode onDone={onDone} />
      </Card>
    );
  }
  if (code !== undefined) {
    return (
      <Card title="Choose how to sign in">
        <CodeForm code={code} onDone={onDone} />
        <Other
          text="Sign in with a password"
          onClick={() => {
            setCode(undefined);
          }}
        />
      </Card>
    );
  }
  return (
    <Card title="Sign in">
      <PasswordForm name="" onDone={onDone} />
      <Provider me={me} />
      <Other
        text="I was given a code"
        onClick={() => {
          setCode('');
        }}
      />
    </Card>
  );
}

function Card({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <main className="flex min-h-full items-start justify-center overflow-y-auto bg-paper p-4 pt-[12vh] max-phone:pt-6">
      <div className="w-full max-w-sm">
        <p className="mb-4 flex items-center gap-3 text-lg font-semibold">
          <img src="/spool.svg" alt="" width={34} height={34} /> Yellow Spool
        </p>
        <div className="rounded-lg border border-rule bg-card p-5">
          <h1 className="mb-3 text-lg font-semibold">{title}</h1>
          {children}
        </div>
      </div>
    </main>
  );
}

function Other({ text, onClick }: { readonly text: string; readonly onClick: () => void }) {
  return (
    <button type="button" className="mt-4 text-tide underline underline-offset-2" onClick={onClick}>
      {text}
    </button>
  );
}

/** The way by an account that people have elsewhere, where the shop has set one up. */
export function Provider({ me: { provider } }: { readonly me: Pick<Me, 'provider'> }) {
  const [trouble, setTrouble] = useState<string>();
  if (provider === null) return null;
  return (
    <>
      <Button
        className="mt-3 h-10 w-full"
        onClick={() => {
          sendJson<{ url: string }>('POST', '/api/sign-in/provider')
            .then(({ url }) => {
              location.assign(url);
            })
            .catch((error: unknown) => {
              setTrouble(errorText(error));
            });
        }}
      >
        Sign in by {provider}
      </Button>
      {trouble !== undefined && (
        <p role="alert" className="mt-2 text-stop">
          {trouble}
        </p>
      )}
    </>
  );
}

/** Ends a sign-in by the provider with what it has sent the browser back with. */
function BackFromProvider() {
  const [trouble, setTrouble] = useState<string>();
  const asked = useRef(false);
  useEffect(() => {
    // What came back counts once.
    if (asked.current) return;
    asked.current = true;
    sendJson('POST', '/api/sign-in/provider/back', { query: location.search })
      .then(() => {
        location.replace('/');
      })
      .catch((error: unknown) => {
        setTrouble(errorText(error));
      });
  }, []);
  if (trouble === undefined) return <p className="text-soft">One moment …</p>;
  return (
    <>
      <p role="alert" className="mb-3 text-stop">
        {trouble}
      </p>
      <Button
        onClick={() => {
          location.assign('/');
        }}
      >
        Back to the sign-in
      </Button>
    </>
  );
}
