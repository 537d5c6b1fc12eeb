import type { Right, Role } from '../../core/people/rights.ts';

/** What each role is for, in a few words, as it is chosen. */
export const ROLE_CHOICES = [
  { value: 'viewer', text: 'viewer: looks at everything' },
  { value: 'operator', text: 'operator: loads, confirms, starts, cares' },
  { value: 'coordinator', text: 'coordinator: all daily work' },
  { value: 'owner', text: 'owner: sets up, people, prices' },
] as const satisfies readonly { readonly value: Role; readonly text: string }[];

/** The same, told to the person. */
export const YOU_MAY: Readonly<Record<Role, string>> = {
  viewer: 'You can look at everything; what you change is yours alone.',
  operator: 'You can do the work at printers: load, confirm, start, pause, cancel, and care for heads.',
  coordinator: 'You can do all daily work: jobs, layouts, lines, media and care.',
  owner: 'You can do everything, set the shop up, and say who may do what.',
};

/** What a program may do by a token. */
export const SCOPE_TEXTS: Readonly<Record<Right, string>> = {
  see: 'look at everything',
  operate: 'work at printers',
  coordinate: 'do all daily work',
  'set up': 'set everything up, but for people',
};
