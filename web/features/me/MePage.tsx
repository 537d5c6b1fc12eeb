import { Moon, Sun, SunMoon } from 'lucide-react';
import { useContext } from 'react';
import { Link } from 'react-router';
import { THEMES } from '../../../core/people/preferences.ts';
import { sendJson } from '../../api/client.ts';
import { CallChoices } from '../../app/alerts/CallChoices.tsx';
import { useNotice } from '../../app/notice.tsx';
import { Reading } from '../../app/Reading.tsx';
import { MeContext, useMay } from '../../people/May.tsx';
import { YOU_MAY } from '../../people/roleTexts.ts';
import { Button } from '../../ui/Button.tsx';
import { setPreferences, usePreferences } from '../../ui/preferences.ts';
import { Section } from '../../ui/Sheet.tsx';
import { OneTimeCodes } from './OneTimeCodes.tsx';
import { ChangePassword } from './ChangePassword.tsx';
import { SessionList } from './SessionList.tsx';
import { TokenList } from './TokenList.tsx';

/** What is somebody's own: how they read figures, what calls them, how they sign in and where they are. */
export function MePage() {
  const { person } = useContext(MeContext);
  return (
    <div className="h-full overflow-y-auto px-6 py-4">
      <div className="max-w-2xl">
        <div className="mb-3 flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <h1 className="text-lg font-semibold break-words">{person?.name ?? 'You'}</h1>
            <p className="text-soft">
              {person ? (
                <>
                  <span className="inline-block first-letter:uppercase">{person.role}</span>. {YOU_MAY[person.role]}
                </>
              ) : (
                <NobodySignsIn />
              )}
            </p>
          </div>
          {person && <SignOut />}
        </div>
        <h2 className="sr-only">What is yours</h2>
        <Section title="How figures are read">
          <Reading />
        </Section>
        <Section title="Look">
          <Looks />
        </Section>
        <Section title="What calls you">
          <p className="mb-1 text-soft">When a printer stops:</p>
          <div className="flex flex-col items-start gap-1.5">
            <CallChoices />
          </div>
        </Section>
        {person && (
          <>
            {person.hasPassword && (
              <Section title="Password">
                <ChangePassword signInName={person.signInName ?? ''} />
              </Section>
            )}
            {person.hasPassword && (
              <Section title="One-time codes">
                <OneTimeCodes on={person.usesCodes} />
              </Section>
            )}
            <Section title="Where you are signed in">
              <SessionList />
            </Section>
            <Section title="Programs that act for you">
              <TokenList />
            </Section>
          </>
        )}
      </div>
    </div>
  );
}

function NobodySignsIn() {
  const may = useMay('set up');
  return (
    <>
      Nobody has to sign in on this machine: whoever is at its pages may do everything, and the log calls them the
      coordinator.{' '}
      {may && (
        <Link to="/setup?people" className="text-tide underline">
          Have people sign in
        </Link>
      )}
    </>
  );
}

function SignOut() {
  const { tell } = useNotice();
  return (
    <Button
      onClick={() => {
        sendJson('POST', '/api/sign-out')
          .then(() => {
            location.assign('/');
          })
          .catch(tell);
      }}
    >
      Sign out
    </Button>
  );
}

const THEME_TEXTS = {
  system: { text: 'As the system has it', icon: SunMoon },
  light: { text: 'Light', icon: Sun },
  dark: { text: 'Dark', icon: Moon },
} as const;

function Looks() {
  const { theme } = usePreferences();
  return (
    <div role="group" aria-label="Light or dark" className="flex flex-wrap gap-2">
      {THEMES.map((each) => {
        const { text, icon: Icon } = THEME_TEXTS[each];
        return (
          <Button
            key={each}
            aria-pressed={theme === each}
            className="aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:text-on-spool"
            onClick={() => {
              setPreferences({ theme: each });
            }}
          >
            <Icon size={16} aria-hidden="true" /> {text}
          </Button>
        );
      })}
    </div>
  );
}
