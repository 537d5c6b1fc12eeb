import { type TicketKey, type TicketValues, sameValue } from './ticket.ts';

/**
 * How far a ticket setting reaches:
 * - *run*: it must be equal for all jobs of a run, so it can't change while the job is in one;
 * - *piece*: a piece is as big as it is by it, or looks as it does: not to be changed under a run either;
 * - *job*: the job's own affair, whatever run it is in.
 */
type SettingScope = 'run' | 'piece' | 'job';

interface TicketSetting {
  /** As it is called in a sentence. */
  readonly label: string;
  readonly scope: SettingScope;
}

/** What is to be known of each setting of a ticket, in one place: the type makes sure that none is forgotten. */
export const TICKET_SETTINGS: Readonly<Record<TicketKey, TicketSetting>> = {
  copies: { label: 'copies', scope: 'job' },
  quarterTurn: { label: 'quarter turn', scope: 'job' },
  halfTurn: { label: 'half turn', scope: 'job' },
  grain: { label: 'grain', scope: 'job' },
  together: { label: 'copies together', scope: 'job' },
  stockId: { label: 'stock', scope: 'run' },
  modeId: { label: 'print mode', scope: 'run' },
  span: { label: 'carriage span', scope: 'run' },
  dryOut: { label: 'dry-out feed', scope: 'run' },
  dryMin: { label: 'drying time', scope: 'run' },
  heaterC: { label: 'heater', scope: 'run' },
  inkLimit: { label: 'ink limit', scope: 'run' },
  profile: { label: 'profile', scope: 'run' },
  artwork: { label: 'artwork profiles', scope: 'run' },
  intent: { label: 'rendering intent', scope: 'run' },
  screening: { label: 'screening', scope: 'run' },
  tone: { label: 'tone', scope: 'run' },
  curves: { label: 'curves', scope: 'run' },
  cutOff: { label: 'cut off', scope: 'run' },
  edgeToEdge: { label: 'edge to edge', scope: 'run' },
  customer: { label: 'customer', scope: 'job' },
  orderNo: { label: 'order', scope: 'job' },
  oneLot: { label: 'one lot', scope: 'job' },
  dueMs: { label: 'due date', scope: 'job' },
  priority: { label: 'priority', scope: 'job' },
  notes: { label: 'notes', scope: 'job' },
  charges: { label: 'extra charges', scope: 'job' },
  latePerHMinor: { label: 'price of an hour late', scope: 'job' },
  unattended: { label: 'printing with nobody there', scope: 'job' },
  keep: { label: 'keep rule', scope: 'job' },
  size: { label: 'size', scope: 'piece' },
  crop: { label: 'crop', scope: 'piece' },
  bleedMm: { label: 'bleed', scope: 'piece' },
  turn: { label: 'turn', scope: 'piece' },
  mirror: { label: 'mirror', scope: 'piece' },
  place: { label: 'place', scope: 'piece' },
  separations: { label: 'separations', scope: 'piece' },
  pagesAs: { label: 'pages', scope: 'job' },
  tiles: { label: 'panels', scope: 'piece' },
  contour: { label: 'contour', scope: 'piece' },
};

/** Run-wide values must be equal for all jobs of a run. Where several differ, the first is named: the stock before the mode. */
export const RUN_WIDE: readonly TicketKey[] = (Object.keys(TICKET_SETTINGS) as TicketKey[]).filter(
  (key) => TICKET_SETTINGS[key].scope === 'run',
);

/** The first run-wide value in which two tickets differ; what has parts is compared by them. */
export function runWideDifference(a: TicketValues, b: TicketValues): TicketKey | undefined {
  return RUN_WIDE.find((key) => !sameValue(a[key], b[key]));
}
