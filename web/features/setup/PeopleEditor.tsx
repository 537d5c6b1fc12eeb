import { useContext, useState } from 'react';
import { useForm } from 'react-hook-form';
import useSWR from 'swr';
import type { PersonBody, PersonView, ProviderBody, ProviderView } from '../../../contract/api/people.ts';
import { sendJson } from '../../api/client.ts';
import { usePeople } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { CopyText } from '../../people/CopyText.tsx';
import { MeContext } from '../../people/May.tsx';
import { ROLE_CHOICES } from '../../people/roleTexts.ts';
import { Entry, wanted } from '../../people/Entry.tsx';
import { EntryForm } from '../../people/EntryForm.tsx';
import { OwnerForm } from '../../people/SignInForms.tsx';
import { AddButton } from '../../ui/AddButton.tsx';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { FieldError } from '../../ui/fields/FieldError.tsx';
import { FIELD } from '../../ui/fields/look.ts';
import { Section } from '../../ui/Sheet.tsx';

/** Who works here and what each may do; whether people have to sign in, and by which accounts they can. */
export function PeopleEditor({ onPerson }: { readonly onPerson: (id: string) => void }) {
  const { data: people = [] } = usePeople(true);
  const { signIn } = useContext(MeContext);
  const columns: readonly Column<PersonView>[] = [
    {
      id: 'name',
      title: 'Name',
      sortBy: ({ name }) => name,
      cell: ({ id, name }) => (
        <button
          type="button"
          className="text-left font-medium text-tide underline-offset-2 hover:underline"
          onClick={() => {
            onPerson(id);
          }}
        >
          {name}
        </button>
      ),
    },
    { id: 'does', title: 'Does', cell: ({ does }) => does },
    { id: 'role', title: 'Role', sortBy: ({ role }) => role, cell: ({ role }) => role },
    {
      id: 'signs',
      title: 'Signs in',
      cell: ({ hasPassword, usesProvider, signInName }) =>
        hasPassword ? (
          `as ${signInName ?? ''}`
        ) : usesProvider ? (
          'by the provider'
        ) : (
          <span className="text-soft">not yet</span>
        ),
    },
    {
      id: 'now',
      title: 'Signed in now',
      right: true,
      cell: ({ sessions }) => (sessions === 0 ? '' : `${String(sessions)} ${sessions === 1 ? 'device' : 'devices'}`),
    },
  ];
  return (
    <div className="max-w-3xl">
      <h2 className="text-lg font-semibold">People</h2>
      <p className="mt-1 mb-3 text-soft">
        Viewers look at everything. Operators do the work at printers. Coordinators do all daily work. Owners set up the
        shop, its prices and its people.
      </p>
      <Section title="Who works here">
        <DataTable
          label="People"
          columns={columns}
          rows={people}
          rowId={({ id }) => id}
          empty={<p className="text-soft">Nobody yet.</p>}
        />
        <AddPerson onAdded={onPerson} />
      </Section>
      <Section title="Sign-in">{signIn === 'off' ? <SwitchOn /> : <SwitchOff />}</Section>
      {signIn === 'on' && (
        <Section title="Accounts elsewhere">
          <ProviderSettings />
        </Section>
      )}
    </div>
  );
}

function AddPerson({ onAdded }: { readonly onAdded: (id: string) => void }) {
  const { register, handleSubmit, setError, formState } = useForm<Pick<PersonBody, 'name' | 'does' | 'role'>>({
    defaultValues: { name: '', does: '', role: 'operator' },
  });
  const { tell } = useNotice();
  const add = handleSubmit(async (values) => {
    try {
      const made = await sendJson<PersonView>('POST', '/api/people', {
        ...values,
        mail: null,
        hours: null,
        quiet: null,
      });
      onAdded(made.id);
    } catch (error) {
      if (error instanceof Error) setError('name', { message: error.message });
      else tell(error);
    }
  });
  return (
    <form className="mt-2" onSubmit={(event) => void add(event)}>
      <div className="flex flex-wrap gap-2">
        <input
          aria-label="Name of the person"
          placeholder="name"
          maxLength={80}
          {...register('name', { setValueAs: trimmed, required: 'It needs a name.' })}
          aria-invalid={formState.errors.name !== undefined}
          className={`${FIELD} w-44`}
        />
        <input
          aria-label="What the person does"
          placeholder="does"
          maxLength={120}
          {...register('does', { setValueAs: trimmed })}
          className={`${FIELD} min-w-32 flex-1`}
        />
        <select aria-label="Role of the person" {...register('role')} className={`${FIELD} w-40`}>
          {ROLE_CHOICES.map(({ value }) => (
            <option key={value} value={value}>
              {value}
            </option>
          ))}
        </select>
        <AddButton>Add</AddButton>
      </div>
      <FieldError text={formState.errors.name?.message} />
    </form>
  );
}

function trimmed(text: string): string {
  return text.trim();
}

/** On this machine nobody has to sign in: whoever switches that on becomes the owner. */
function SwitchOn() {
  const [asking, setAsking] = useState(false);
  if (asking) {
    return (
      <div className="max-w-sm">
        <OwnerForm
          withCode={false}
          onDone={() => {
            // What this page may do is another person's from here on.
            location.reload();
          }}
        />
      </div>
    );
  }
  return (
    <>
      <p className="mb-2 text-soft">
        Nobody has to sign in: whoever is at this machine may do everything. Other machines can reach the shop only once
        people sign in.
      </p>
      <Button
        onClick={() => {
          setAsking(true);
        }}
      >
        Have people sign in
      </Button>
    </>
  );
}

function SwitchOff() {
  const { tell } = useNotice();
  return (
    <>
      <p className="mb-2 text-soft">People have to sign in.</p>
      <Button
        onClick={() => {
          sendJson('PUT', '/api/sign-in', { on: false }).catch(tell);
        }}
      >
        Nobody has to sign in on this machine
      </Button>
    </>
  );
}

const PROVIDER = '/api/sign-in/provider';

/** A provider of accounts that the shop has already, by OpenID Connect. */
function ProviderSettings() {
  const { data, mutate } = useSWR<ProviderView, Error>(PROVIDER);
  const { tell } = useNotice();
  const [changing, setChanging] = useState(false);
  if (!data) return <p className="text-soft">Reading…</p>;
  const { provider, returnTo } = data;
  if (!changing) {
    return (
      <>
        <p className="mb-2 text-soft">
          {provider
            ? `People sign in by ${provider.name} (${provider.issuer}). Whom it names by the address for messages is let in.`
            : 'People who have an account elsewhere, at a provider of OpenID Connect, can sign in by it.'}
        </p>
        <div className="flex gap-2">
          <Button
            onClick={() => {
              setChanging(true);
            }}
          >
            {provider ? 'Change the provider' : 'Set a provider'}
          </Button>
          {provider && (
            <Button
              kind="danger"
              onClick={() => {
                sendJson('DELETE', PROVIDER).then(() => mutate(), tell);
              }}
            >
              No provider any more
            </Button>
          )}
        </div>
      </>
    );
  }
  return (
    <div className="max-w-md">
      <EntryForm<Required<ProviderBody>>
        start={{
          name: provider?.name ?? '',
          issuer: provider?.issuer ?? '',
          clientId: provider?.clientId ?? '',
          clientSecret: '',
        }}
        button="Keep it once it answers"
        send={({ clientSecret, ...body }) =>
          sendJson(
            'PUT',
            PROVIDER,
            clientSecret === '' && provider?.hasSecret === true ? body : { ...body, clientSecret },
          )
        }
        onDone={() => {
          setChanging(false);
          void mutate();
        }}
      >
        <div>
          <p className="mb-0.5">Enter this at the provider as where to return to:</p>
          <CopyText label="Address to return to" text={returnTo} />
        </div>
        <Entry<ProviderBody>
          name="name"
          label="Its name, as people know it"
          autoComplete="off"
          rules={wanted('its name')}
        />
        <Entry<ProviderBody>
          name="issuer"
          label="Its address (issuer)"
          autoComplete="off"
          hint="https://accounts.example"
          rules={wanted('its address')}
        />
        <Entry<ProviderBody>
          name="clientId"
          label="Client"
          autoComplete="off"
          rules={wanted('the client that it knows this shop as')}
        />
        <Entry<ProviderBody>
          name="clientSecret"
          label="Secret of the client"
          type="password"
          autoComplete="off"
          {...(provider?.hasSecret === true ? { hint: 'Left empty, it stays.' } : {})}
        />
      </EntryForm>
    </div>
  );
}
