/*
 * What the event log keeps: a kind, and the figures and names that belong to it. The sentence that people read is made from
 * them where it is shown (`sentence.ts`), so that stories, figures and odds can read the log without reading English.
 *
 * Names (a file, a printer, a spool) are those of the moment: a thing that was renamed or removed since is still told of as
 * it was. Lengths are in mm, instants and durations in ms. `run` is the number of a run. A kind keeps its meaning for good;
 * a new meaning is a new kind.
 */

interface FileEvents {
  'job.arrived': { readonly file: string; readonly queue: string; readonly jobs: number; readonly blocked: boolean };
  'file.gone': { readonly file: string };
  'file.refused': { readonly file: string; readonly reason: string };
  'refusal.dismissed': { readonly file: string };
}

/** Figures of what happens to jobs. */
interface JobEvents {
  /** A ticket file that came after its job; `what` names the values that it changed. */
  'job.ticket-came': { readonly file: string; readonly what: string };
  'job.changed': { readonly file: string; readonly what: string };
  'jobs.changed': { readonly jobs: number; readonly what: string; readonly refused: number };
  /** A change that was undone; `file` where it was one job. */
  'jobs.changed-back': { readonly jobs: number; readonly file: string | null; readonly refused: number };
  'job.priced': { readonly file: string; readonly priced: boolean };
  'job.routed': { readonly file: string; readonly printer: string; readonly why: string };
  'job.cancelled': { readonly file: string };
  'job.restored': { readonly file: string };
  'job.accepted': { readonly file: string };
  'job.again': { readonly file: string; readonly copies: number };
  'job.spoiled': { readonly file: string; readonly pieces: number };
  'job.opened-anew': { readonly file: string };
  'job.shelved': { readonly file: string };
  'job.dropped': { readonly file: string };
}

/** Figures of what happens to runs before they are queued. */
interface LayoutEvents {
  'run.drafted': { readonly run: number; readonly pieces: number; readonly jobs: number; readonly printer: string };
  'run.joined': { readonly run: number; readonly pieces: number };
  /** Copies of one job in a draft were raised or lowered; `order`: how many of them nobody had ordered. */
  'run.copies': {
    readonly run: number;
    readonly pieces: number;
    readonly file: string;
    readonly order: { readonly beyond: number } | null;
  };
  'run.segmented': { readonly run: number; readonly segments: number };
  'run.series-joined': { readonly run: number; readonly segments: number };
  'run.two-sided': { readonly run: number; readonly turn: string };
  'run.one-sided': { readonly run: number };
  'run.back-confirmed': { readonly run: number; readonly spool: string | null; readonly turn: string };
  /** A run of the rule *go* that could not go by itself. */
  'run.stayed': { readonly run: number; readonly reason: string };
  'run.rest': { readonly run: number; readonly pieces: number; readonly of: number };
  'run.dissolved': { readonly run: number };
}

/** Care of heads: `care` says what it is. */
interface CareEvents {
  'feed.measured': { readonly printer: string; readonly stock: string; readonly measuredMm: number };
  'check.read': {
    readonly printer: string;
    readonly by: 'device' | 'eye' | 'photo';
    readonly missing: number;
    readonly weak: number;
    readonly crooked: number;
  };
  'care.wanted': { readonly care: string; readonly printer: string };
  'care.asked': { readonly care: string; readonly printer: string; readonly run: number };
  'care.first': { readonly care: string; readonly printer: string; readonly run: number };
  'care.began': { readonly care: string; readonly printer: string };
  'care.done': { readonly care: string; readonly printer: string; readonly ml: number; readonly reason: string | null };
  'care.failed': {
    readonly care: string;
    readonly printer: string;
    readonly ml: number;
    readonly reason: string | null;
  };
  'care.stopped': {
    readonly care: string;
    readonly printer: string;
    readonly ml: number;
    readonly reason: string | null;
  };
  'care.cancelled': { readonly care: string; readonly printer: string };
  /** `ml`: what was not fired. */
  'care.skipped': { readonly care: string; readonly printer: string; readonly reason: string; readonly ml: number };
  'care.missed': { readonly care: string; readonly printer: string; readonly reason: string };
  'timer.made': { readonly care: string; readonly printer: string; readonly when: string };
  'timer.changed': { readonly care: string; readonly printer: string; readonly when: string };
  'timer.paused': { readonly care: string; readonly printer: string; readonly when: string };
  'timer.goes-on': { readonly care: string; readonly printer: string; readonly when: string };
  'timer.removed': { readonly care: string; readonly printer: string; readonly when: string };
  'care-rule.made': { readonly rule: string; readonly paused: boolean };
  'care-rule.changed': { readonly rule: string; readonly paused: boolean };
  'care-rule.removed': { readonly rule: string; readonly paused: boolean };
  'run.marked': { readonly run: number; readonly important: boolean };
  'design.made': { readonly design: string; readonly printer: string };
  'design.changed': { readonly design: string; readonly printer: string };
  'design.removed': { readonly design: string; readonly printer: string };
}

interface LineEvents {
  /** Its ink was counted dot by dot, in place of an estimate. */
  'run.counted': { readonly run: number; readonly ml: number; readonly estimateMl: number };
  /** Its ink was sampled from its real pixels; it lies within such a share of what was found. */
  'run.sampled': { readonly run: number; readonly ml: number; readonly estimateMl: number; readonly within: number };
  'run.queued': { readonly run: number; readonly printer: string; readonly lengthMm: number; readonly back: boolean };
  'series.queued': { readonly runs: number; readonly printer: string };
  'series.taken-back': { readonly runs: number; readonly gone: number };
  'run.taken-back': { readonly run: number; readonly draft: number };
  'run.moved': { readonly run: number; readonly printer: string };
  'run.start-fixed': { readonly run: number; readonly startMs: number | null };
  /** `moved`: the one run that came earlier, where it was one. */
  'spools.chosen': { readonly runs: number; readonly given: number; readonly lines: number };
  'line.ordered': { readonly printer: string; readonly moved: number | null };
  'run.at-risk': { readonly run: number; readonly printer: string; readonly lateMs: number };
  'run.in-time': { readonly run: number; readonly printer: string };
}

interface PrinterEvents {
  'run.sent': { readonly run: number; readonly printer: string };
  /** `resumedMm`: where it went on after a pause; null: it began. */
  'run.printing': { readonly run: number; readonly resumedMm: number | null };
  'run.paused': { readonly run: number; readonly atMm: number; readonly reason: string | null };
  'run.printed': { readonly run: number; readonly lengthMm: number; readonly fedMm: number };
  'run.failed': { readonly run: number; readonly atMm: number; readonly reason: string | null };
  /** `atMm`: null where it had not been sent yet. */
  'run.cancelled': { readonly run: number; readonly atMm: number | null };
  'printer.state': { readonly printer: string; readonly state: string; readonly reason: string | null };
}

/** Figures of what happens to spools. Lengths are those of the ledger. */
interface MediaEvents {
  'spool.received': { readonly spool: string; readonly stock: string; readonly lengthMm: number };
  'stock.ordered': { readonly stock: string; readonly lengthMm: number };
  'stock.order-closed': { readonly stock: string; readonly lengthMm: number };
  'stock.counted': {
    readonly spools: number;
    readonly differences: number;
    readonly mm: number;
    readonly reason: string;
  };
  'spool.loaded': { readonly spool: string; readonly stock: string; readonly printer: string; readonly source: string };
  'spool.unloaded': { readonly spool: string };
  'spool.measured': { readonly spool: string; readonly printer: string; readonly source: string };
  'spool.corrected': {
    readonly spool: string;
    readonly beforeMm: number;
    readonly leftMm: number;
    readonly reason: string;
  };
  'spool.offcut': { readonly offcut: string; readonly spool: string; readonly lengthMm: number };
  'spool.gone': { readonly spool: string };
  'spool.back': { readonly spool: string };
}

/** Figures of what is set up. */
interface SetupEvents {
  'clock.rate': { readonly rate: number };
  'clock.step': { readonly byMs: number };
  'rules.changed': { readonly rules: number };
  'folder.created': { readonly path: string; readonly queue: string };
  /** `paused`: null where something else was changed. */
  'folder.changed': { readonly path: string; readonly paused: boolean | null };
  'folder.removed': { readonly path: string };
  'printer.made': { readonly printer: string };
  'printer.changed': { readonly printer: string };
  'printer.removed': { readonly printer: string };
  'queue.changed': { readonly queue: string };
  'queue.copied': { readonly queue: string; readonly from: string };
  'shop.changed': Readonly<Record<string, never>>;
  /** Who is told of what, and by which ways. */
  'messages.changed': { readonly people: number };
  'crew.works': Readonly<Record<string, never>>;
  'crew.rests': Readonly<Record<string, never>>;
  'profile.putBack': { readonly profile: string };
  'profile.taken': { readonly profile: string; readonly replaced: boolean };
  'sizes.changed': { readonly added: readonly string[]; readonly gone: readonly string[] };
  'stock.made': { readonly stock: string; readonly like: string };
  'stock.changed': { readonly stock: string };
  'stock.settings': { readonly stock: string; readonly printer: string };
  'stocks.settings': { readonly changes: number; readonly stocks: number };
  'stocks.settings-undone': { readonly rows: number; readonly stayed: number };
  'preset.created': { readonly preset: string };
  'preset.changed': { readonly preset: string; readonly before: string };
  'preset.deleted': { readonly preset: string };
}

/** Times away: with nobody there, by a plan. */
interface AwayEvents {
  /** `runs` that it says are printed, and those `held` out since they need a hand. */
  'away.armed': { readonly fromMs: number; readonly toMs: number; readonly runs: number; readonly held: number };
  /** A proposed night: what was queued, moved to another printer, and put in another order. */
  'night.accepted': { readonly queued: number; readonly moved: number; readonly ordered: number };
  /** `stayed`: what had begun by then. */
  'night.taken-back': { readonly stayed: number };
  'away.disarmed': Readonly<Record<string, never>>;
  'away.ended': { readonly printed: number; readonly planned: number };
}

/** Who may do what, and who comes and goes. `person` is the name of the one it is about. */
interface PeopleEvents {
  'person.made': { readonly person: string; readonly role: string };
  'person.changed': { readonly person: string };
  'person.role': { readonly person: string; readonly role: string };
  'person.left': { readonly person: string };
  'person.code': { readonly person: string };
  'person.password': { readonly person: string };
  'person.one-time-codes': { readonly person: string; readonly on: boolean };
  'person.signed-in': {
    readonly person: string;
    readonly device: string;
    readonly by: 'password' | 'provider' | 'code';
  };
  'person.signed-out': { readonly person: string; readonly sessions: number };
  'token.made': { readonly token: string; readonly scope: string; readonly person: string };
  'token.removed': { readonly token: string; readonly person: string };
  'sign-in.on': Readonly<Record<string, never>>;
  'sign-in.off': Readonly<Record<string, never>>;
  'provider.changed': { readonly provider: string | null };
}

/** The data of each kind of event. */
export type EventData = FileEvents &
  JobEvents &
  LayoutEvents &
  LineEvents &
  PrinterEvents &
  MediaEvents &
  CareEvents &
  PeopleEvents &
  AwayEvents &
  SetupEvents;

export type EventKind = keyof EventData;
