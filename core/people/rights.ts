/**
 * What a person must be allowed to do, from least to most. Every route says which of these it needs.
 *
 * - *see*: look at everything that is planned, printed and left;
 * - *operate*: the work at a printer: load, confirm, start, pause, cancel what is on it, care;
 * - *coordinate*: the daily work: jobs, tickets, layouts, lines, the rack;
 * - *set up*: what holds for all that comes, and who may do what: printers, queues, stocks, prices, hours, people.
 */
export const RIGHTS = ['see', 'operate', 'coordinate', 'set up'] as const;
export type Right = (typeof RIGHTS)[number];

/** Each role has one right, and with it all that come before it. */
export const ROLES = ['viewer', 'operator', 'coordinator', 'owner'] as const;
export type Role = (typeof ROLES)[number];

const HELD: Record<Role, Right> = { viewer: 'see', operator: 'operate', coordinator: 'coordinate', owner: 'set up' };

/** The greatest right of a role. */
export function rightOf(role: Role): Right {
  return HELD[role];
}

/** The least role that has a right. */
export function roleFor(right: Right): Role {
  return ROLES[RIGHTS.indexOf(right)] ?? 'owner';
}

/** Whether somebody who holds one right may do what needs another. */
export function allows(held: Right, needed: Right): boolean {
  return RIGHTS.indexOf(held) >= RIGHTS.indexOf(needed);
}

/** The smaller of two rights: a token never does more than the person who made it. */
export function lesser(a: Right, b: Right): Right {
  return allows(a, b) ? b : a;
}
