import type { Actor } from '../core/events/actor.ts';
import type { EventData, EventKind } from '../core/events/eventData.ts';
import type { Logger } from 'pino';
import type { Db, Tx } from './db/open.ts';
import { insertEvent } from './db/insertEvent.ts';
import type { ShopClock } from './ports/clock.ts';
import type { FilePlaces } from './ports/files.ts';
import type { LiveEvents, Touched } from './ports/live.ts';
import type { MachineLink } from './ports/machineLink.ts';
import type { ShopTasks } from './ports/shopTasks.ts';
import type { RunRenderings } from './ports/runRenderings.ts';
import type { Storage } from './ports/storage.ts';
import type { Work as WorkPort } from './ports/work.ts';
import type { ShopTaskKinds, TaskKinds } from './work/kinds.ts';
import type { Limits } from './limits.ts';
import type { UndoStep } from '../contract/api/common.ts';

/** What use cases work with: ports, put together in main.ts only. */
export interface Shop {
  readonly db: Db;
  readonly clock: ShopClock;
  readonly paths: FilePlaces;
  readonly bus: LiveEvents;
  /** Everything that takes longer than a request should. */
  readonly work: WorkPort<TaskKinds>;
  /** What the shop does by itself, step by step. */
  readonly tasks: ShopTasks<ShopTaskKinds, Tx>;
  readonly link: MachineLink;
  /** What is rendered for printers just now. */
  readonly renderings: RunRenderings;
  /** Room on the disk, and whether the database can be written. */
  readonly storage: Storage;
  readonly log: Logger;
  readonly limits: Limits;
  /** Where devices fetch files from, e.g. http://127.0.0.1:4000. */
  readonly baseUrl: () => string;
  /** ISO code of the money. */
  readonly currency: () => string;
  /** This machine's own time (ms): sign-ins end by it, however fast shop time runs. */
  readonly realNow: () => number;
  /** Why people have to sign in; none while only this machine can reach the shop. */
  readonly exposures: () => readonly string[];
  /** Something changed that the dispatcher may act on. */
  readonly wakeDispatcher: () => void;
}

/** What happened, with the data that belong to its kind. */
export type Happened<K extends EventKind = EventKind> = {
  readonly [Kind in K]: { readonly kind: Kind; readonly data: EventData[Kind] };
}[K];

/** A row for the event log. */
interface NoteParts {
  readonly subject: readonly [
    type:
      | 'job'
      | 'run'
      | 'printer'
      | 'spool'
      | 'refusal'
      | 'queue'
      | 'hot folder'
      | 'preset'
      | 'stock'
      | 'shop'
      | 'person'
      | 'away',
    id: string,
  ];
  readonly actor: Actor;
  readonly undo?: UndoStep;
  /** Kept in the log without being called out: one of many. */
  readonly quiet?: boolean;
}

export type Note<K extends EventKind> = { readonly kind: K; readonly data: EventData[K] } & NoteParts;

/** The hands that a use case has inside its transaction. */
export interface Work {
  readonly tx: Tx;
  readonly nowMs: number;
  /** Writes a row of the event log. */
  readonly note: <K extends EventKind>(note: Note<K>) => void;
  /** Says whose view changed; the new view goes out after the commit. */
  readonly touch: (...touched: Touched[]) => void;
}

/**
 * Runs one use case in one transaction. Its event-log rows are part of it; what listeners are told goes out only once
 * it is committed.
 */
export function transact<T>(shop: Shop, body: (work: Work) => T): T {
  const touched: Touched[] = [];
  const ids: number[] = [];
  const within = (tx: Tx): T => {
    const nowMs = shop.clock.now();
    return body({
      tx,
      nowMs,
      note: ({ kind, subject, data, actor, undo, quiet }) => {
        const id = insertEvent(tx, {
          atMs: nowMs,
          kind,
          subjectType: subject[0],
          subjectId: subject[1],
          actorKind: actor.kind,
          actorId: actor.id,
          who: actor.name,
          data,
          undo: undo ?? null,
        });
        if (quiet !== true) ids.push(id);
      },
      touch: (...items) => touched.push(...items),
    });
  };
  let result: T;
  try {
    result = shop.db.transaction(within, { behavior: 'immediate' });
  } catch (error) {
    shop.storage.noticed(error);
    throw error;
  }
  shop.bus.committed(ids, touched);
  return result;
}

/** A refusal that reaches the caller as it stands: what is wrong with its figures, and the nearest way out. */
export class Refused extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 422 | 429 | 503,
    readonly code: string,
    message: string,
    readonly figures?: Record<string, unknown>,
    readonly remedy?: string,
  ) {
    super(message);
  }
}

/** An id that no other thing has, with what it is of in front. */
export function newId(prefix: string): string {
  return `${prefix}-${crypto.randomUUID().replaceAll('-', '').slice(0, 12)}`;
}
