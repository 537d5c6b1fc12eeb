import { useContext, useState } from 'react';
import type { OneTimeCode, PersonBody, PersonView } from '../../../contract/api/people.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { CopyText } from '../../people/CopyText.tsx';
import { MeContext } from '../../people/May.tsx';
import { ROLE_CHOICES } from '../../people/roleTexts.ts';
import { realDayText } from '../../people/realTime.ts';
import { Button } from '../../ui/Button.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { NameInput } from '../../ui/fields/NameInput.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { TextInput } from '../../ui/fields/TextInput.tsx';
import { TimeInput } from '../../ui/fields/TimeInput.tsx';
import { HoldButton } from '../../ui/HoldButton.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { DayHours } from './DayHours.tsx';

/** One person: what they do and may do, when they are there, where messages reach them, and how they sign in. */
export function PersonEditor({ person, onGone }: { readonly person: PersonView; readonly onGone: () => void }) {
  const { tell } = useNotice();
  const change = (part: Partial<PersonBody>): void => {
    sendJson('PATCH', `/api/people/${person.id}`, part).catch(tell);
  };
  return (
    <div className="max-w-2xl">
      <NameInput
        label="Name of the person"
        value={person.name}
        onChange={(name) => {
          change({ name });
        }}
      />
      <div className="mt-3" />
      <Section title="In the shop">
        <Row label="Does">
          <TextInput
            label="What the person does"
            value={person.does}
            most={120}
            className="w-72"
            onChange={(does) => {
              change({ does });
            }}
          />
        </Row>
        <Row label="May do">
          <Select
            label="Role"
            className="w-72"
            value={person.role}
            choices={ROLE_CHOICES}
            onChange={(role) => {
              change({ role });
            }}
          />
        </Row>
        <Row label="Address for messages">
          <TextInput
            label="Address for messages"
            value={person.mail ?? ''}
            placeholder="name@shop.example"
            className="w-72"
            onChange={(mail) => {
              change({ mail: mail === '' ? null : mail });
            }}
          />
        </Row>
      </Section>
      <Times person={person} onChange={change} />
      <SigningIn person={person} onGone={onGone} />
    </div>
  );
}

/** When they are there, and when no message may wake them. */
function Times({
  person: { hours, quiet },
  onChange,
}: {
  readonly person: PersonView;
  readonly onChange: (part: Partial<PersonBody>) => void;
}) {
  return (
    <Section title="Hours">
      <Checkbox
        text="There whenever the shop is open"
        value={hours === null}
        onChange={(same) => {
          onChange({
            hours: same ? null : [1, 2, 3, 4, 5].map((weekday) => ({ weekday, from: '07:30', to: '16:00' })),
          });
        }}
      />
      {hours && (
        <div className="mt-1">
          <DayHours
            days={hours}
            closed="not there"
            onChange={(next) => {
              onChange({ hours: next });
            }}
          />
        </div>
      )}
      <div className="mt-2 flex min-h-8 flex-wrap items-center gap-3">
        <Checkbox
          text="No message at night"
          value={quiet !== null}
          className="w-48"
          onChange={(on) => {
            onChange({ quiet: on ? { from: '22:00', to: '06:00' } : null });
          }}
        />
        {quiet && (
          <>
            <TimeInput
              label="Quiet from"
              value={quiet.from}
              onChange={(from) => {
                onChange({ quiet: { ...quiet, from } });
              }}
            />
            <span className="text-soft">to</span>
            <TimeInput
              label="Quiet to"
              value={quiet.to}
              onChange={(to) => {
                onChange({ quiet: { ...quiet, to } });
              }}
            />
          </>
        )}
      </div>
    </Section>
  );
}

function howText({ signInName, hasPassword, usesCodes, usesProvider }: PersonView): string {
  const ways = [
    ...(hasPassword ? [`as ${signInName ?? ''} with a password${usesCodes ? ' and one-time codes' : ''}`] : []),
    ...(usesProvider ? ['by the provider'] : []),
  ];
  return ways.length === 0 ? 'not yet: give them a code' : ways.join(', or ');
}

function SigningIn({ person, onGone }: { readonly person: PersonView; readonly onGone: () => void }) {
  const { tell, say } = useNotice();
  const { person: me } = useContext(MeContext);
  const [code, setCode] = useState<OneTimeCode>();
  const { id, name, sessions } = person;
  return (
    <Section title="Signing in">
      <Row label="Signs in">{howText(person)}</Row>
      <Row label="Signed in now">
        {sessions === 0 ? 'nowhere' : `on ${String(sessions)} ${sessions === 1 ? 'device' : 'devices'}`}
      </Row>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          onClick={() => {
            sendJson<OneTimeCode>('POST', `/api/people/${id}/code`).then(setCode, tell);
          }}
        >
          {person.hasPassword ? 'New password by a code' : 'Give a code'}
        </Button>
        {sessions > 0 && (
          <Button
            onClick={() => {
              sendJson('POST', `/api/people/${id}/sign-out`).then(() => {
                say(`${name} is signed out everywhere`);
              }, tell);
            }}
          >
            Sign out everywhere
          </Button>
        )}
        {me?.id !== id && (
          <HoldButton
            text="Take off the list"
            onHeld={() => {
              sendJson('DELETE', `/api/people/${id}`).then(onGone, tell);
            }}
          />
        )}
      </div>
      {code && (
        <div className="mt-3 rounded-md border border-ink px-3 py-2">
          <p className="mb-1">
            Hand this on to {name}; it is shown this once, and good until {realDayText(code.untilMs)}. They open this
            address and choose a name and a password:
          </p>
          <CopyText label="Address with the code" text={`${location.origin}/sign-in/code#${code.code}`} />
        </div>
      )}
    </Section>
  );
}
