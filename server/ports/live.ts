import type { LogEvent } from '../../contract/api/common.ts';

/** Something whose view has changed. */
export interface Touched {
  readonly type:
    | 'job'
    | 'run'
    | 'printer'
    | 'spool'
    | 'refusal'
    | 'queue'
    | 'preset'
    | 'sizes'
    | 'setup'
    | 'rules'
    | 'stock'
    | 'people'
    | 'away'
    | 'clock';
  readonly id: string;
}

/** What open pages are told. */
export interface LiveMessage {
  readonly event: string;
  readonly id?: number;
  readonly data: unknown;
}

/** Where the present views come from. */
export interface LiveSource {
  logEvents(ids: readonly number[]): LogEvent[];
  /** The present view of what was touched; undefined when it no longer exists. */
  view(touched: Touched): unknown;
}

/** Tells whoever listens what has changed, once it is committed. */
export interface LiveEvents {
  connect(source: LiveSource): void;
  /** @returns ends it */
  subscribe(listener: (message: LiveMessage) => void): () => void;
  /** Never throws: what it is told of is committed, whoever can be told. */
  committed(logIds: readonly number[], touched: readonly Touched[]): void;
  /** Goes to everybody at once; for what is in no table. */
  tell(event: string, data: unknown): void;
}
