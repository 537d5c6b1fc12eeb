import { Mail } from 'lucide-react';
import { useState } from 'react';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { TextInput } from '../../ui/fields/TextInput.tsx';
import { FlyOut } from '../../ui/FlyOut.tsx';
import type { Period } from './useSimulation.ts';

/** Sends the list before you go as one page, to be read on a phone. */
export function SendList({ period }: { readonly period: Period }) {
  return (
    <FlyOut
      title="Send the list"
      button={
        <>
          <Mail size={14} aria-hidden="true" /> Send the list
        </>
      }
      buttonClass="inline-flex items-center gap-1 text-tide underline"
      panelClass="w-72 p-3"
    >
      {(close) => <Form period={period} onSent={close} />}
    </FlyOut>
  );
}

function Form({ period, onSent }: { readonly period: Period; readonly onSent: () => void }) {
  const { tell, say } = useNotice();
  const [to, setTo] = useState('');
  const [busy, setBusy] = useState(false);
  const send = (): void => {
    setBusy(true);
    sendJson('POST', '/api/away/mail', { to, fromMs: period.fromMs, toMs: period.toMs })
      .then(() => {
        say(`The list was sent to ${to}`);
        onSent();
      })
      .catch(tell)
      .finally(() => {
        setBusy(false);
      });
  };
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <TextInput label="Mail address" value={to} placeholder="you@…" atOnce onChange={setTo} />
      <Button type="submit" kind="main" disabled={busy || !to.includes('@')}>
        Send
      </Button>
    </form>
  );
}
