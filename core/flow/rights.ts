/**
 * What a person must be allowed to do, from least to most. Every route says which of these it needs.
 *
 * - *see*: look at everything that is planned, printed and left;
 * - *operate*: the work at a printer: load, confirm, start, pause, cancel what is on it;
 * - *coordinate*: the daily work: jobs, tickets, layouts, lines, the rack;
 * - *set up*: what holds for all that comes: printers, queues, stocks, folders, rules, hours.
 */
export type Right = 'see' | 'operate' | 'coordinate' | 'set up';
