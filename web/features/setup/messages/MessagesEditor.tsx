import { useState } from 'react';
import useSWR from 'swr';
import type { CauseView, MessageSetup, MessageSetupAnswer } from '../../../../contract/api/messages.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { dayText, useZone } from '../../../app/shopTime.ts';
import { Button } from '../../../ui/Button.tsx';
import { type Column, DataTable } from '../../../ui/DataTable.tsx';
import { Section } from '../../../ui/Sheet.tsx';
import { MailServerForm } from './MailServerForm.tsx';
import { MessageRules } from './MessageRules.tsx';
import { sentOf } from './messageDraft.ts';
import { WeekMailForm } from './WeekMailForm.tsx';
import { WebhookList } from './WebhookList.tsx';

const SETUP = '/api/message-setup';

/** Who is told when it goes wrong, of what and by which way; and what was sent lately. */
export function MessagesEditor() {
  const { data, error, mutate } = useSWR<MessageSetupAnswer, Error>(SETUP);
  if (error && !data) return <p className="text-stop">{errorText(error)}</p>;
  if (!data) return <p className="text-soft">Reading …</p>;
  return <Editor data={data} onKept={(kept) => void mutate(kept, { revalidate: false })} />;
}

function Editor({
  data,
  onKept,
}: {
  readonly data: MessageSetupAnswer;
  readonly onKept: (kept: MessageSetupAnswer) => void;
}) {
  const { tell, say } = useNotice();
  // What a person has changed stays theirs until they set it, whatever the server says meanwhile.
  const [own, setOwn] = useState<{ readonly draft: MessageSetup; readonly from: string } | null>(null);
  const kept = sentOf(data);
  const word = JSON.stringify(kept);
  const draft = own?.draft ?? kept;
  const changed = JSON.stringify(draft) !== word;
  const change = (part: Partial<MessageSetup>): void => {
    setOwn({ draft: { ...draft, ...part }, from: own?.from ?? word });
  };
  const keep = (): void => {
    sendJson<MessageSetupAnswer>('PUT', SETUP, draft)
      .then((now) => {
        setOwn(null);
        onKept(now);
        say('Messages are set');
      })
      .catch(tell);
  };
  return (
    <div className="max-w-3xl">
      <h2 className="text-lg font-semibold">Messages</h2>
      <p className="mt-1 mb-3 text-soft">
        One message for one trouble, however often it shows. Nobody is told within their quiet hours, nor of what
        somebody has seen. On pages a printer that stops calls by itself: see “What calls you” under You.
      </p>
      <Section title="Who is told of what">
        <MessageRules
          rules={draft.rules}
          people={data.people}
          onChange={(rules) => {
            change({ rules });
          }}
        />
      </Section>
      <Section title="The week by mail">
        <WeekMailForm
          week={draft.week ?? null}
          people={data.people}
          onChange={(week) => {
            change({ week });
          }}
        />
      </Section>
      <Section title="Mail server">
        <MailServerForm
          mail={draft.mail}
          standInUrl={data.standInUrl}
          isKept={!changed}
          onChange={(mail) => {
            change({ mail });
          }}
        />
      </Section>
      <Section title="Programs">
        <WebhookList
          webhooks={draft.webhooks}
          told={data.webhooks}
          onChange={(webhooks) => {
            change({ webhooks });
          }}
        />
      </Section>
      <p className="sticky bottom-0 flex items-center gap-3 bg-paper py-3">
        <Button kind="main" disabled={!changed} onClick={keep}>
          Set messages
        </Button>
        {changed && (
          <Button
            kind="quiet"
            onClick={() => {
              setOwn(null);
            }}
          >
            As it was
          </Button>
        )}
        {changed && own !== null && own.from !== word && (
          <span className="text-wait" role="alert">
            Somebody else has set messages meanwhile: “As it was” shows theirs, “Set messages” replaces it.
          </span>
        )}
      </p>
      <Section title="What people were told of lately">
        <MessageLog />
      </Section>
    </div>
  );
}

function MessageLog() {
  const { data = [], mutate } = useSWR<CauseView[], Error>('/api/messages', { refreshInterval: 10_000 });
  const { tell } = useNotice();
  const zone = useZone();
  const columns: readonly Column<CauseView>[] = [
    {
      id: 'when',
      title: 'When',
      className: 'whitespace-nowrap',
      cell: ({ openedMs }) => dayText(openedMs, zone),
    },
    {
      id: 'what',
      title: 'What',
      cell: ({ text, closedMs }) => (
        <>
          {text}
          {closedMs !== null && <span className="text-soft"> · over</span>}
        </>
      ),
    },
    {
      id: 'told',
      title: 'Told',
      cell: ({ sends }) =>
        sends.length === 0 ? (
          <span className="text-soft">nobody</span>
        ) : (
          <ul>
            {sends.map(({ to, atMs, state, error }) => (
              <li key={`${to} ${String(atMs)}`}>
                {to} {dayText(atMs, zone)}, {state === 'waiting' ? 'on its way' : state}
                {error !== null && state !== 'sent' && <span className="text-stop">: {error}</span>}
              </li>
            ))}
          </ul>
        ),
    },
    {
      id: 'seen',
      title: 'Seen',
      cell: ({ id, seenBy, closedMs }) =>
        seenBy !== null ? (
          `by ${seenBy}`
        ) : closedMs !== null ? (
          ''
        ) : (
          <Button
            onClick={() => {
              sendJson('POST', `/api/messages/${id}/seen`)
                .then(() => mutate())
                .catch(tell);
            }}
          >
            Seen
          </Button>
        ),
    },
  ];
  return (
    <DataTable
      label="Messages"
      columns={columns}
      rows={data}
      rowId={({ id }) => id}
      empty={<p className="text-soft">Nothing has gone wrong yet.</p>}
    />
  );
}
