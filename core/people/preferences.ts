/** How people want to read lengths. *metric*: millimetres, and metres where a length is along the media. */
export const UNITS = ['metric', 'mm', 'cm', 'm', 'in', 'ft'] as const;
export type Units = (typeof UNITS)[number];

/** As the system has it, or as a person prefers it. */
export const THEMES = ['system', 'light', 'dark'] as const;
export type ThemeChoice = (typeof THEMES)[number];

/** What people choose for themselves. */
export interface Preferences {
  /** A sound when a printer stops. */
  readonly sound: boolean;
  /** A notification of the desktop when a printer stops. */
  readonly notify: boolean;
  /** How lengths are read; fields take any unit. */
  readonly units: Units;
  /** How numbers, dates and times are written; words stay English. */
  readonly locale: string;
  readonly theme: ThemeChoice;
  /** The step of the first guide that is shown; below zero: it has not begun; null: it is over. */
  readonly guideStep: number | null;
  /** The queue that files are dropped into. */
  readonly dropQueueId: string | null;
  /** Hours that the strip of all printers shows. */
  readonly floorHours: number | null;
  /** The table in Intake as it was left, and as it was saved by name; what is in it is the table's own business. */
  readonly intakeView: unknown;
  readonly intakeViews: unknown[];
  /** Ways to look at Pace: the address of each. */
  readonly paceViews: { readonly name: string; readonly search: string }[];
}

/** What counts until somebody chooses otherwise. */
export const PLAIN_PREFERENCES: Preferences = {
  sound: false,
  notify: false,
  units: 'metric',
  locale: 'en-GB',
  theme: 'system',
  guideStep: -1,
  dropQueueId: null,
  floorHours: null,
  intakeView: null,
  intakeViews: [],
  paceViews: [],
};
