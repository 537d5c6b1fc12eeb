import { CircleHelp, CircleUserRound, Search } from 'lucide-react';
import { useContext, type ReactNode } from 'react';
import { NavLink } from 'react-router';
import { MeContext } from '../people/May.tsx';
import { useAlerts } from './alerts/useAlerts.ts';
import { ShopClockControl } from './ShopClockControl.tsx';
import { VIEWS } from './views.ts';

/** The views at the left, and the shop’s clock below them. */
export function Rail({ onFind, onHelp }: { readonly onFind: () => void; readonly onHelp: () => void }) {
  const { alerts } = useAlerts();
  const { person } = useContext(MeContext);
  return (
    <nav
      aria-label="Views"
      className="row-span-1 flex min-h-0 min-w-0 flex-col items-stretch overflow-y-auto border-r border-rule bg-card py-2 max-phone:order-last max-phone:flex-row max-phone:items-center max-phone:overflow-x-auto max-phone:border-t max-phone:border-r-0 max-phone:py-1"
    >
      <NavLink to="/floor" aria-label="Yellow Spool, to the Floor" className="mb-2 self-center max-phone:hidden">
        <img src="/spool.svg" alt="" width={34} height={34} />
      </NavLink>
      {VIEWS.map(({ path, name, key, icon: Icon }) => (
        <NavLink
          key={path}
          to={path}
          title={`${name} (g ${key})`}
          className={({ isActive }) =>
            `mx-1.5 mb-px flex shrink-0 flex-col max-phone:mx-0.5 max-phone:mb-0 max-phone:min-w-12 max-phone:px-1 items-center gap-0.5 rounded-md border py-1 text-xs ${
              isActive
                ? 'border-ink bg-spool font-semibold text-on-spool'
                : 'border-transparent text-soft hover:bg-rule/40 hover:text-ink'
            }`
          }
        >
          <span className="relative">
            <Icon size={20} strokeWidth={1.8} aria-hidden="true" />
            {path === '/floor' && alerts.length > 0 && (
              <span className="absolute -top-1.5 left-3.5 min-w-4 rounded-full bg-stop px-1 text-center text-[11px] leading-4 font-semibold text-card">
                {alerts.length}
                <span className="sr-only">{alerts.length === 1 ? ' printer stands' : ' printers stand'}</span>
              </span>
            )}
          </span>
          {name}
        </NavLink>
      ))}
      <div className="flex-1 max-phone:hidden" />
      <RailButton label="Find" title="Find anything (/)" onClick={onFind}>
        <Search size={18} aria-hidden="true" />
      </RailButton>
      <RailButton label="Help" title="What this view is for, and its keys (?)" onClick={onHelp}>
        <CircleHelp size={18} aria-hidden="true" />
      </RailButton>
      <NavLink
        to="/me"
        title={person ? `${person.name}: what you prefer, and signing out` : 'What you prefer'}
        className={({ isActive }) =>
          `mx-1.5 flex min-w-0 shrink-0 flex-col items-center gap-0.5 rounded-md border py-1 text-xs max-phone:mx-0.5 max-phone:min-w-12 ${
            isActive
              ? 'border-ink bg-spool text-on-spool'
              : 'border-transparent text-soft hover:bg-rule/40 hover:text-ink'
          }`
        }
      >
        <CircleUserRound size={18} aria-hidden="true" />
        <span className="max-w-full truncate">{person?.name.split(' ')[0] ?? 'You'}</span>
      </NavLink>
      <ShopClockControl />
    </nav>
  );
}

function RailButton({
  label,
  title,
  onClick,
  children,
}: {
  readonly label: string;
  readonly title: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}) {
  return (
    <button
      type="button"
      title={title}
      onClick={onClick}
      className="mx-1.5 flex shrink-0 flex-col items-center gap-0.5 max-phone:mx-0.5 max-phone:min-w-12 rounded-md py-1 text-xs text-soft hover:bg-rule/40 hover:text-ink"
    >
      {children}
      {label}
    </button>
  );
}
