import { useState } from 'react';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { Entry, wanted } from '../../people/Entry.tsx';
import { EntryForm } from '../../people/EntryForm.tsx';
import { NewPassword } from '../../people/SignInForms.tsx';
import { Button } from '../../ui/Button.tsx';

interface Asked {
  readonly present: string;
  readonly password: string;
  readonly again: string;
}

/** Another password; everywhere else the person has to sign in again. */
export function ChangePassword({ signInName }: { readonly signInName: string }) {
  const [changing, setChanging] = useState(false);
  const { say } = useNotice();
  if (!changing) {
    return (
      <p className="flex flex-wrap items-center gap-3">
        <span>
          You sign in as <strong className="font-semibold">{signInName}</strong>.
        </span>
        <Button
          onClick={() => {
            setChanging(true);
          }}
        >
          Another password
        </Button>
      </p>
    );
  }
  return (
    <div className="max-w-xs">
      <EntryForm<Asked>
        start={{ present: '', password: '', again: '' }}
        button="Keep the new password"
        send={({ present, password }) => sendJson('PUT', '/api/me/password', { present, next: password })}
        onDone={() => {
          setChanging(false);
          say('Your password is changed; everywhere else you have to sign in again');
        }}
      >
        <Entry<Asked>
          name="present"
          label="Present password"
          type="password"
          autoComplete="current-password"
          focus
          rules={wanted('your present password')}
        />
        <NewPassword />
      </EntryForm>
    </div>
  );
}
