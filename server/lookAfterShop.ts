import type { Repeated } from './repeated.ts';
import type { Shop } from './shop.ts';
import { endDueAway } from './usecases/away/arm.ts';
import { sendWeek } from './usecases/pace/week/weekMail.ts';
import { putDueCare } from './usecases/care/dueTimers.ts';
import { lookAtCauses } from './usecases/messages/messageWatch.ts';
import { type Outgoing, sendDue } from './usecases/messages/outbox.ts';
import { InkSampler } from './usecases/output/inkSampler.ts';
import { pruneRenderedData } from './usecases/output/pruneRenderedData.ts';
import { FactsProjector } from './usecases/pace/factsProjector.ts';
import type { DatesAtRisk } from './usecases/plan/datesAtRisk.ts';
import { releaseDueRuns } from './usecases/run/autoSubmit.ts';
import { applyKeepRules } from './usecases/shelf/shelf.ts';

/** Looks after stand-ins that died on their own so often. */
const STAND_IN_WATCH_MS = 3000;
const DUE_LOOK_MS = 500;
const TIDY_MS = 5_000;
/** Files are removed by their age; a look at all of them need not be often. */
const RENDERED_MS = 60_000;
const MESSAGES_MS = 3000;
const SEND_MS = 1000;
const CLOCK_NOTE_MS = 30_000;
/** Facts are made in small pieces, so that nobody waits for them. */
const FACTS_MS = 50;
const FACTS_FOR_MS = 10;
/** A run that is queued is known by its estimate until it is sampled: nobody waits for it. */
const SAMPLE_MS = 1000;
const CERTIFICATE_MS = 60_000;
const RESUME_MS = 15_000;

/** What the shop is looked after with. */
export interface Upkeep {
  readonly shop: Shop;
  readonly repeated: Repeated;
  readonly dates: DatesAtRisk;
  readonly outgoing: Outgoing;
  readonly keepClock: () => void;
  readonly renewCertificate: () => unknown;
  readonly watchStandIns: () => Promise<void>;
}

/** What is done by itself, again and again. What would begin something new waits while nothing can be written down. */
export function lookAfterShop(upkeep: Upkeep): void {
  const { shop, repeated, dates, outgoing } = upkeep;
  const facts = new FactsProjector(shop);
  const sampler = new InkSampler(shop);
  const whenWell = (act: () => unknown) => () => (shop.storage.acceptsWork ? act() : undefined);
  const everyWell = (ms: number, what: string, act: () => unknown): void => {
    repeated.every(ms, what, whenWell(act));
  };
  repeated.every(STAND_IN_WATCH_MS, 'the stand-ins cannot be started', upkeep.watchStandIns);
  everyWell(DUE_LOOK_MS, 'a run that should go by itself could not be looked at', () => releaseDueRuns(shop));
  everyWell(DUE_LOOK_MS, 'timers could not be looked at', () => {
    putDueCare(shop);
  });
  everyWell(DUE_LOOK_MS, 'the time away could not be looked at', () => {
    endDueAway(shop);
  });
  everyWell(MESSAGES_MS, 'what people have to be told of could not be looked at', () => {
    lookAtCauses(shop);
  });
  everyWell(SEND_MS, 'messages could not be sent', () => sendDue(shop, outgoing));
  everyWell(TIDY_MS, 'the page of the week could not be sent', () => sendWeek(shop, outgoing));
  everyWell(RESUME_MS, 'tasks of the shop could not be gone on with', () => shop.tasks.resume());
  everyWell(TIDY_MS, 'the Shelf could not be looked after', () => {
    applyKeepRules(shop);
  });
  everyWell(FACTS_MS, 'the figures of Pace could not be made', () => {
    facts.work(FACTS_FOR_MS, () => performance.now());
  });
  everyWell(TIDY_MS, 'dates at risk could not be looked at', () => {
    dates.look();
  });
  everyWell(SAMPLE_MS, 'the ink of queued runs could not be sampled', () => sampler.look());
  repeated.every(CERTIFICATE_MS, 'the certificate could not be read anew', upkeep.renewCertificate);
  repeated.every(RENDERED_MS, 'rendered data could not be bounded', () => pruneRenderedData(shop));
  everyWell(CLOCK_NOTE_MS, 'the time could not be written down', upkeep.keepClock);
  void shop.tasks.resume().catch((error: unknown) => {
    if (!shop.storage.noticed(error)) shop.log.error({ err: error }, 'tasks of the shop could not be gone on with');
  });
}
