import { useState } from 'react';
import useSWR from 'swr';
import type { TotpOffer } from '../../../contract/api/people.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { Entry, wanted } from '../../people/Entry.tsx';
import { EntryForm } from '../../people/EntryForm.tsx';
import { Button } from '../../ui/Button.tsx';

/** Codes of an app beside the password: set up with a picture that the app reads, taken off with the password. */
export function OneTimeCodes({ on }: { readonly on: boolean }) {
  const [offer, setOffer] = useState<TotpOffer>();
  const [leaving, setLeaving] = useState(false);
  const { say, tell } = useNotice();
  if (on) {
    return leaving ? (
      <div className="max-w-xs">
        <EntryForm<{ password: string }>
          start={{ password: '' }}
          button="Sign in without codes"
          send={(body) => sendJson('DELETE', '/api/me/totp', body)}
          onDone={() => {
            setLeaving(false);
            say('You sign in without one-time codes from now on');
          }}
        >
          <Entry<{ password: string }>
            name="password"
            label="Password"
            type="password"
            autoComplete="current-password"
            focus
            rules={wanted('your password')}
          />
        </EntryForm>
      </div>
    ) : (
      <p className="flex flex-wrap items-center gap-3">
        <span>Your app’s code is asked for at each sign-in.</span>
        <Button
          onClick={() => {
            setLeaving(true);
          }}
        >
          No codes any more
        </Button>
      </p>
    );
  }
  if (!offer) {
    return (
      <p className="flex flex-wrap items-center gap-3">
        <span className="min-w-0 flex-1 text-soft">
          An app on your phone shows a new code every half minute. Whoever has only your password can’t get in then.
        </span>
        <Button
          onClick={() => {
            sendJson<TotpOffer>('POST', '/api/me/totp').then(setOffer, tell);
          }}
        >
          Use one-time codes
        </Button>
      </p>
    );
  }
  return (
    <div className="flex flex-wrap gap-5">
      <QrCode text={offer.uri} />
      <div className="max-w-xs flex-1">
        <p className="mb-2">Read the picture with the app, or enter this secret there:</p>
        <p className="mb-3 font-mono break-all">{offer.secret.replace(/(.{4})(?=.)/g, '$1 ')}</p>
        <EntryForm<{ code: string }>
          start={{ code: '' }}
          button="Use codes from now on"
          send={({ code }) => sendJson('PUT', '/api/me/totp', { secret: offer.secret, code })}
          onDone={() => {
            setOffer(undefined);
            say('You sign in with one-time codes from now on');
          }}
        >
          <Entry<{ code: string }>
            name="code"
            label="The code that the app shows now"
            autoComplete="one-time-code"
            focus
            rules={wanted('the six digits that your app shows')}
          />
        </EntryForm>
      </div>
    </div>
  );
}

/** Modules of quiet around it: ISO/IEC 18004 wants four. */
const QUIET = 4;

function QrCode({ text }: { readonly text: string }) {
  // The encoder is large, and needed by few.
  const { data: modules } = useSWR(['qr', text], async () =>
    (await import('../../draw/encodeCode.ts')).encodeCode('qr', text),
  );
  if (modules?.kind !== 'square') return null;
  const { size, dark } = modules;
  const all = size + 2 * QUIET;
  const path = dark
    .map((is, i) => (is ? `M${String((i % size) + QUIET)} ${String(Math.floor(i / size) + QUIET)}h1v1h-1z` : ''))
    .join('');
  return (
    <svg
      viewBox={`0 0 ${String(all)} ${String(all)}`}
      className="size-44 shrink-0"
      role="img"
      aria-label="The secret as a picture for the app"
    >
      {/* An app needs it dark on light, whatever the theme. */}
      <rect width={all} height={all} fill="#fff" />
      <path d={path} fill="#000" shapeRendering="crispEdges" />
    </svg>
  );
}
