import useSWR from 'swr';
import type { SessionView } from '../../../contract/api/people.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { realTimeText } from '../../people/realTime.ts';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';

/** Each place where the person is signed in, and its end. */
export function SessionList() {
  const { data = [], mutate } = useSWR<SessionView[], Error>('/api/me/sessions');
  const { tell } = useNotice();
  const columns: readonly Column<SessionView>[] = [
    {
      id: 'device',
      title: 'On',
      cell: ({ device, here }) => (
        <>
          {device === '' ? 'an unknown browser' : device}
          {here && <span className="text-soft">, this page</span>}
        </>
      ),
    },
    { id: 'since', title: 'Since', cell: ({ createdMs }) => realTimeText(createdMs) },
    { id: 'seen', title: 'Last there', cell: ({ seenMs, here }) => (here ? 'now' : realTimeText(seenMs)) },
    {
      id: 'end',
      title: '',
      right: true,
      cell: ({ id, here }) =>
        !here && (
          <Button
            kind="quiet"
            className="!h-7 !px-1.5"
            onClick={() => {
              sendJson('DELETE', `/api/me/sessions/${id}`).then(() => mutate(), tell);
            }}
          >
            Sign out there
          </Button>
        ),
    },
  ];
  return (
    <>
      <DataTable label="Where you are signed in" columns={columns} rows={data} rowId={({ id }) => id} />
      {data.length > 1 && (
        <Button
          className="mt-2"
          onClick={() => {
            sendJson('POST', '/api/me/sign-out-everywhere')
              .then(() => {
                location.assign('/');
              })
              .catch(tell);
          }}
        >
          Sign out everywhere
        </Button>
      )}
    </>
  );
}
