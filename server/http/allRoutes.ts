import type { Dispatcher } from '../devices/dispatcher.ts';
import type { HotFolders } from '../ingest/hotFolders.ts';
import type { Intake } from '../ingest/intake.ts';
import type { Shop } from '../shop.ts';
import type { Route } from './route.ts';
import { awayRoutes } from './routes/awayRoutes.ts';
import { careRuleRoutes } from './routes/care/careRuleRoutes.ts';
import { careRoutes } from './routes/care/careRoutes.ts';
import { timerRoutes } from './routes/care/timerRoutes.ts';
import { floorRoutes } from './routes/floorRoutes.ts';
import { jobRoutes } from './routes/jobRoutes.ts';
import { messageRoutes } from './routes/messageRoutes.ts';
import type { Outgoing } from '../usecases/messages/outbox.ts';
import { layoutRoutes } from './routes/layoutRoutes.ts';
import { mediaRoutes } from './routes/mediaRoutes.ts';
import { paceRoutes } from './routes/paceRoutes.ts';
import { supplyRoutes } from './routes/supplyRoutes.ts';
import { headRoutes } from './routes/care/headRoutes.ts';
import { handRoutes } from './routes/handRoutes.ts';
import { planRoutes } from './routes/planRoutes.ts';
import { peopleRoutes } from './routes/people/peopleRoutes.ts';
import { signInRoutes } from './routes/people/signInRoutes.ts';
import { channelRoutes } from './routes/channelRoutes.ts';
import { profileRoutes } from './routes/profileRoutes.ts';
import { printerRoutes } from './routes/printerRoutes.ts';
import { runFileRoutes } from './routes/runFileRoutes.ts';
import { runRoutes } from './routes/runRoutes.ts';
import { setupRoutes } from './routes/setupRoutes.ts';
import { shelfRoutes } from './routes/shelfRoutes.ts';
import { taskRoutes } from './routes/taskRoutes.ts';
import { ticketRoutes } from './routes/ticketRoutes.ts';
import { uploadRoutes } from './routes/uploadRoutes.ts';

/** What routes need beside the shop: the parts that run beside requests. */
interface Running {
  readonly intake: Intake;
  readonly folders: HotFolders;
  readonly dispatcher: Dispatcher;
  readonly isReady: () => boolean;
  /** As browsers say where a page comes from, where it has an address of its own. */
  readonly publicOrigin: string | undefined;
  /** What the demo's crew signs in with. */
  readonly crewToken: string;
  /** How messages leave the shop. */
  readonly outgoing: Outgoing;
  /** Where the mail of the demo can be read; null: its stand-in does not run. */
  readonly mailUrl: () => string | null;
}

/** The whole API, in the order in which it describes itself. */
export function allRoutes(
  shop: Shop,
  { intake, folders, dispatcher, isReady, publicOrigin, crewToken, outgoing, mailUrl }: Running,
): Route[] {
  return [
    ...floorRoutes(shop, isReady, crewToken),
    ...signInRoutes(shop, publicOrigin),
    ...peopleRoutes(shop, publicOrigin),
    ...uploadRoutes(shop, intake),
    ...ticketRoutes(shop),
    ...jobRoutes(shop),
    ...setupRoutes(shop, folders),
    ...profileRoutes(shop),
    ...channelRoutes(shop),
    ...runRoutes(shop, dispatcher),
    ...runFileRoutes(shop),
    ...layoutRoutes(shop),
    ...mediaRoutes(shop),
    ...supplyRoutes(shop),
    ...paceRoutes(shop),
    ...shelfRoutes(shop),
    ...planRoutes(shop),
    ...handRoutes(shop, dispatcher),
    ...careRoutes(shop, dispatcher.care),
    ...headRoutes(shop),
    ...timerRoutes(shop),
    ...careRuleRoutes(shop),
    ...awayRoutes(shop),
    ...messageRoutes(shop, outgoing, mailUrl),
    ...taskRoutes(shop),
    ...printerRoutes(shop, () => {
      dispatcher.follow();
    }),
  ];
}
