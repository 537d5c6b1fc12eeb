import { useCallback, useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import { useSWRConfig } from 'swr';
import type { Me } from '../../contract/api/people.ts';
import { ApiError, errorText, getJson, sendJson } from '../api/client.ts';
import { KEYS, useMe } from '../api/data.ts';
import { belongTo, goOnSignedIn, useSignedOut } from '../api/signedOut.ts';
import { useTheme } from '../app/theme.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { keepPreferencesOf } from '../ui/preferences.ts';
import { MeContext } from './May.tsx';
import { PasswordForm } from './SignInForms.tsx';
import { Provider, SignInPage } from './SignInPage.tsx';

/** How often a page that waits for its person looks whether they are back. */
const LOOK_MS = 2500;

/**
 * Lets in who has signed in. Whose session ends later keeps the page as it is, under a dialog: what was being edited goes on
 * where it was as soon as they have signed in again.
 */
export function Gate({ children }: { readonly children: ReactNode }) {
  useTheme();
  const { data: me, error } = useMe();
  const { mutate } = useSWRConfig();
  const signedOut = useSignedOut();
  /** Who was let in at this page. */
  const [inside, setInside] = useState<Me>();
  const adopted = useRef<string | undefined>(undefined);
  if (me && me.right !== null && me !== inside && isSame(inside, me)) setInside(me);
  // Here, or in another tab of this browser, somebody else has signed in: they begin anew.
  const isAnothers = me !== undefined && me.right !== null && !isSame(inside, me);
  useEffect(() => {
    if (isAnothers) location.assign('/');
  }, [isAnothers]);
  useLayoutEffect(() => {
    if (!inside?.person || adopted.current === inside.person.id) return;
    adopted.current = inside.person.id;
    belongTo(inside.person.id);
    keepPreferencesOf(inside.person.id, inside.preferences ?? {}, (change) => {
      // It is kept in this browser in any case.
      sendJson('PATCH', '/api/me/preferences', change).catch(() => undefined);
    });
  }, [inside]);
  const look = useCallback(async () => {
    const now = await getJson<Me>(KEYS.me);
    if (now.right === null) return;
    if (location.pathname.startsWith('/sign-in')) location.assign('/');
    await mutate(KEYS.me, now, { revalidate: false });
    // What waits was begun by one person: it must not be done in another one's name.
    if (isSame(inside, now)) goOnSignedIn();
  }, [inside, mutate]);
  const cameIn = useCallback(() => void look(), [look]);
  // Whoever signs in again in another tab is back in this one, too.
  const isOut = inside !== undefined && (signedOut || me?.right === null);
  useEffect(() => {
    if (!isOut) return undefined;
    const timer = window.setInterval(() => {
      // The server may be gone meanwhile: it is looked again.
      look().catch(() => undefined);
    }, LOOK_MS);
    return () => {
      window.clearInterval(timer);
    };
  }, [isOut, look]);
  if (!me) return error ? <NoAnswer error={error} /> : null;
  if (!inside) return me.right === null ? <SignInPage me={me} onDone={cameIn} /> : null;
  return (
    <MeContext value={inside}>
      {children}
      {isOut && <SignInAgain me={me} whose={inside.person} onDone={cameIn} />}
    </MeContext>
  );
}

/** The page came, and then the server was gone. */
function NoAnswer({ error }: { readonly error: unknown }) {
  const isGone = error instanceof ApiError && error.status === 0;
  return (
    <p role="alert" className="p-8 text-stop">
      {isGone ? 'Server does not answer; trying again' : errorText(error)}
    </p>
  );
}

/** Whether what one began may go on in the name of the other. Whoever was at this machine before is anybody. */
function isSame(before: Me | undefined, now: Me): boolean {
  return before?.person == null || now.person?.id === before.person.id;
}

/** Over the page of somebody whose session has ended. */
function SignInAgain({
  me,
  whose,
  onDone,
}: {
  readonly me: Me;
  readonly whose: Me['person'];
  readonly onDone: () => void;
}) {
  return (
    <Dialog title="You have been signed out" className="w-96 p-5">
      <p className="mb-3 text-soft">
        {whose
          ? `Sign in as ${whose.name} again, and what you were at goes on where it was. Somebody else who signs in here begins anew.`
          : 'People have to sign in here from now on. What you were at goes on where it was.'}
      </p>
      <PasswordForm name={whose?.signInName ?? ''} onDone={onDone} />
      <Provider me={me} />
    </Dialog>
  );
}
