import { useContext, useState } from 'react';
import useSWR from 'swr';
import type { TokenBody, TokenView } from '../../../contract/api/people.ts';
import { RIGHTS, allows } from '../../../core/people/rights.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { CopyText } from '../../people/CopyText.tsx';
import { MeContext } from '../../people/May.tsx';
import { SCOPE_TEXTS } from '../../people/roleTexts.ts';
import { realDayText, realTimeText } from '../../people/realTime.ts';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { TextInput } from '../../ui/fields/TextInput.tsx';

/** Programs that ask the shop's API in the person's name: a screen on the wall, a calendar, another system. */
export function TokenList() {
  const { data = [], mutate } = useSWR<TokenView[], Error>('/api/me/tokens');
  const { tell } = useNotice();
  const [made, setMade] = useState<{ readonly name: string; readonly token: string }>();
  const columns: readonly Column<TokenView>[] = [
    { id: 'name', title: 'Name', className: 'break-words', cell: ({ name }) => name },
    { id: 'scope', title: 'May', cell: ({ scope }) => SCOPE_TEXTS[scope] },
    { id: 'until', title: 'Until', cell: ({ untilMs }) => realDayText(untilMs) },
    { id: 'used', title: 'Last used', cell: ({ usedMs }) => (usedMs === null ? 'never' : realTimeText(usedMs)) },
    {
      id: 'remove',
      title: '',
      right: true,
      cell: ({ id, name }) => (
        <Button
          kind="quiet"
          className="!h-7 !px-1.5"
          aria-label={`Take back the token ${name}`}
          onClick={() => {
            sendJson('DELETE', `/api/me/tokens/${id}`).then(() => mutate(), tell);
          }}
        >
          Take back
        </Button>
      ),
    },
  ];
  return (
    <>
      <p className="mb-2 text-soft">
        A program signs in with a token. It does no more than the token says, and the log names both of you.
      </p>
      {data.length > 0 && <DataTable label="Tokens" columns={columns} rows={data} rowId={({ id }) => id} />}
      {made && (
        <div className="mt-2 rounded-md border border-ink px-3 py-2">
          <p className="mb-1">The token of {made.name}. It is shown this once:</p>
          <CopyText label="Token" text={made.token} />
        </div>
      )}
      <NewTokenForm
        onMake={(body) => {
          sendJson<{ token: string }>('POST', '/api/me/tokens', body).then(({ token }) => {
            setMade({ name: body.name, token });
            void mutate();
          }, tell);
        }}
      />
    </>
  );
}

function NewTokenForm({ onMake }: { readonly onMake: (body: TokenBody) => void }) {
  const { right } = useContext(MeContext);
  const [body, setBody] = useState<TokenBody>({ name: '', scope: 'see', days: 90 });
  const own = RIGHTS.filter((each) => right !== null && allows(right, each));
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2">
      <TextInput
        label="Name of the program"
        placeholder="a program, such as: board in the hall"
        value={body.name}
        most={80}
        atOnce
        className="min-w-52 flex-1"
        onChange={(name) => {
          setBody((old) => ({ ...old, name }));
        }}
      />
      <Select
        label="What it may do"
        className="w-44"
        value={body.scope}
        choices={own.map((value) => ({ value, text: SCOPE_TEXTS[value] }))}
        onChange={(scope) => {
          setBody((old) => ({ ...old, scope }));
        }}
      />
      <NumberInput
        label="Days that it is good for"
        value={body.days}
        whole
        least={1}
        most={366}
        unit="days"
        atOnce
        onChange={(days) => {
          setBody((old) => ({ ...old, days }));
        }}
      />
      <Button
        disabled={body.name.trim() === ''}
        onClick={() => {
          onMake(body);
          setBody((old) => ({ ...old, name: '' }));
        }}
      >
        Make a token
      </Button>
    </div>
  );
}
