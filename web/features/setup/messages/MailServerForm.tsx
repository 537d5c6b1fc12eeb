import { useState } from 'react';
import type { MailServerView } from '../../../../contract/api/messages.ts';
import { sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { TextInput } from '../../../ui/fields/TextInput.tsx';
import { Row } from '../../../ui/Sheet.tsx';

interface MailProps {
  readonly mail: MailServerView;
  readonly standInUrl: string | null;
  /** Nothing here waits to be kept: it can be tried. */
  readonly isKept: boolean;
  readonly onChange: (mail: MailServerView) => void;
}

type Kind = 'none' | 'stand-in' | 'smtp';
const PORT = 587;
const NEW = {
  kind: 'smtp',
  host: 'mail.example',
  port: PORT,
  tls: false,
  user: '',
  from: 'shop@mail.example',
} as const;

/** Where mail goes out. Nothing is sent to any address that nobody entered. */
export function MailServerForm({ mail, standInUrl, isKept, onChange }: MailProps) {
  const kind: Kind = mail?.kind ?? 'none';
  const choices = [
    { value: 'none', text: 'No mail' },
    ...(standInUrl === null && kind !== 'stand-in' ? [] : [{ value: 'stand-in', text: 'The mail stand-in' }]),
    { value: 'smtp', text: 'A mail server (SMTP)' },
  ] as const;
  return (
    <div className="flex max-w-md flex-col gap-1.5">
      <Select
        label="How mail is sent"
        value={kind}
        choices={choices}
        onChange={(next) => {
          onChange(next === 'none' ? null : next === 'stand-in' ? { kind: 'stand-in' } : { ...NEW });
        }}
      />
      {mail?.kind === 'stand-in' && (
        <p className="text-soft">
          It sends nothing on.{' '}
          {standInUrl !== null && (
            <a href={standInUrl} target="_blank" rel="noreferrer" className="text-tide underline">
              See what was sent
            </a>
          )}
        </p>
      )}
      {mail?.kind === 'smtp' && <Smtp mail={mail} onChange={onChange} />}
      {mail && isKept && <Try />}
    </div>
  );
}

type SmtpServer = Extract<MailServerView, { kind: 'smtp' }>;

function Smtp({ mail, onChange }: { readonly mail: SmtpServer; readonly onChange: (mail: MailServerView) => void }) {
  const set = (part: Partial<SmtpServer>): void => {
    onChange({ ...mail, ...part });
  };
  return (
    <>
      <Row label="Server">
        <TextInput
          label="Server"
          value={mail.host}
          onChange={(host) => {
            set({ host });
          }}
        />
      </Row>
      <Row label="Port">
        <NumberInput
          label="Port"
          value={mail.port}
          least={1}
          most={65_535}
          whole
          onChange={(port) => {
            set({ port });
          }}
        />
      </Row>
      <Checkbox
        text="TLS from the first byte (465); else it is asked for"
        value={mail.tls}
        onChange={(tls) => {
          set({ tls });
        }}
      />
      <Row label="User">
        <TextInput
          label="User"
          value={mail.user}
          onChange={(user) => {
            set({ user });
          }}
        />
      </Row>
      <Row label="Password">
        <input
          type="password"
          aria-label="Password of the mail server"
          autoComplete="off"
          placeholder="as it was"
          value={mail.password ?? ''}
          onChange={(event) => {
            set({ password: event.target.value });
          }}
          className="h-8 w-full rounded-md border border-rule bg-card px-2"
        />
      </Row>
      <Row label="From">
        <TextInput
          label="From"
          value={mail.from}
          onChange={(from) => {
            set({ from });
          }}
        />
      </Row>
    </>
  );
}

function Try() {
  const { tell, say } = useNotice();
  const [to, setTo] = useState('');
  return (
    <Row label="Try it">
      <span className="flex gap-2">
        <TextInput label="Send a test to" value={to} placeholder="you@…" atOnce onChange={setTo} />
        <Button
          disabled={!to.includes('@')}
          onClick={() => {
            sendJson('POST', '/api/message-setup/test', { to })
              .then(() => {
                say(`A test was sent to ${to}`);
              })
              .catch(tell);
          }}
        >
          Send a test
        </Button>
      </span>
    </Row>
  );
}
