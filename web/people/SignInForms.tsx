import { useState } from 'react';
import type { FirstOwner, TakeCode } from '../../contract/api/people.ts';
import { ApiError, sendJson } from '../api/client.ts';
import { Entry, wanted } from './Entry.tsx';
import { EntryForm } from './EntryForm.tsx';

interface Given {
  readonly name: string;
  readonly password: string;
  readonly code: string;
}

/** Name and password; the code of the app is asked for once they are right. */
export function PasswordForm({ name, onDone }: { readonly name: string; readonly onDone: () => void }) {
  const [codeWanted, setCodeWanted] = useState(false);
  return (
    <EntryForm<Given>
      start={{ name, password: '', code: '' }}
      button="Sign in"
      send={({ code, ...given }) => sendJson('POST', '/api/sign-in', code === '' ? given : { ...given, code })}
      onRefused={(error) => {
        const isWanted = error instanceof ApiError && error.code === 'code-wanted';
        if (isWanted) setCodeWanted(true);
        return isWanted;
      }}
      onDone={onDone}
    >
      <Entry<Given>
        name="name"
        label="Name"
        autoComplete="username"
        focus={name === ''}
        rules={wanted('who you are')}
      />
      <Entry<Given>
        name="password"
        label="Password"
        type="password"
        autoComplete="current-password"
        focus={name !== ''}
        rules={wanted('your password')}
      />
      {codeWanted && (
        <Entry<Given>
          name="code"
          label="Code of your app"
          autoComplete="one-time-code"
          focus
          rules={wanted('the six digits that your app shows')}
        />
      )}
    </EntryForm>
  );
}

/** So that nobody mistypes what they can't read. */
interface Twice {
  readonly again: string;
}

const PASSWORD_HINT = 'At least 12 characters: three or four words are easier to keep than signs.';

/** A new password, entered twice. */
export function NewPassword() {
  return (
    <>
      <Entry<Twice & { readonly password: string }>
        name="password"
        label="Password"
        type="password"
        autoComplete="new-password"
        hint={PASSWORD_HINT}
        rules={wanted('a password')}
      />
      <Entry<Twice & { readonly password: string }>
        name="again"
        label="The same once more"
        type="password"
        autoComplete="new-password"
        rules={{ validate: (again, { password }) => again === password || 'This is not the same.' }}
      />
    </>
  );
}

/** Somebody who was given a code chooses how to sign in. */
export function CodeForm({ code, onDone }: { readonly code: string; readonly onDone: () => void }) {
  return (
    <EntryForm<TakeCode & Twice>
      start={{ code, signInName: '', password: '', again: '' }}
      button="Sign in with this from now on"
      send={({ again: _again, ...asked }) => sendJson('POST', '/api/sign-in/code', asked)}
      onDone={onDone}
    >
      <Entry<TakeCode>
        name="code"
        label="The code that you were given"
        autoComplete="off"
        focus={code === ''}
        rules={wanted('the code')}
      />
      <Entry<TakeCode>
        name="signInName"
        label="Name to sign in with"
        autoComplete="username"
        hint="Short, without spaces."
        focus={code !== ''}
        rules={SIGN_IN_NAME}
      />
      <NewPassword />
    </EntryForm>
  );
}

const SIGN_IN_NAME = {
  ...wanted('a name to sign in with'),
  pattern: {
    value: /^[A-Za-z0-9][A-Za-z0-9._@-]{1,59}$/,
    message: 'Two letters or more; letters, digits, dots and dashes, without spaces.',
  },
};

/** Whoever has the code of the server, or is at this machine, becomes the first owner. */
export function OwnerForm({ withCode, onDone }: { readonly withCode: boolean; readonly onDone: () => void }) {
  return (
    <EntryForm<FirstOwner & Twice>
      start={{ code: '', name: '', signInName: '', password: '', again: '' }}
      button="Become the owner"
      send={({ again: _again, code = '', ...asked }) =>
        sendJson('POST', '/api/sign-in/owner', withCode ? { ...asked, code } : asked)
      }
      onDone={onDone}
    >
      {withCode && (
        <Entry<FirstOwner>
          name="code"
          label="The code that the server has printed"
          autoComplete="off"
          focus
          hint="Four groups of five, where the server was started."
          rules={wanted('the code')}
        />
      )}
      <Entry<FirstOwner>
        name="name"
        label="Your name, as others see it"
        autoComplete="name"
        rules={wanted('your name')}
      />
      <Entry<FirstOwner>
        name="signInName"
        label="Name to sign in with"
        autoComplete="username"
        hint="Short, without spaces."
        rules={SIGN_IN_NAME}
      />
      <NewPassword />
    </EntryForm>
  );
}
