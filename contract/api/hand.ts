import { Type, type Static } from 'typebox';
import { Id, InstantMs, nullable } from './common.ts';

const Act = Type.Union([
  Type.Object({ kind: Type.Literal('load'), spoolId: Id, sourceId: Id }),
  Type.Object({ kind: Type.Literal('emptied') }),
  Type.Object({ kind: Type.Literal('resume'), runId: Id }),
  Type.Object({ kind: Type.Literal('confirm back'), runId: Id, spoolId: Id }),
]);

/** Something that a person has to do at a printer. */
export const HandView = Type.Object({
  key: Type.String({ description: 'says what it is: once it is done no hand has this key any more' }),
  printerId: Id,
  printerName: Type.String(),
  when: Type.Union([Type.Literal('now'), InstantMs], { description: 'now: printing stands until it is done' }),
  kind: Type.Enum(['fault', 'go-on', 'load', 'confirm', 'empty', 'ink', 'piece', 'heads', 'offer', 'look']),
  text: Type.String(),
  way: Type.String(),
  runId: nullable(Id),
  load: nullable(Type.Object({ spoolId: Id, sourceId: Id })),
  /** A person looks at it just now: so many seconds ago. */
  openedS: nullable(Type.Number()),
  act: Type.Union([Act, Type.Null()], {
    description: 'what ticking it off does; null: it can only be done at the printer',
  }),
});
export type HandView = Static<typeof HandView>;

/** Whether the stand-in for people is at work: in a demo, where nobody would load anything otherwise. */
export const CrewView = Type.Object({
  there: Type.Boolean({ description: 'a crew belongs to this shop' }),
  on: Type.Boolean(),
});
export type CrewView = Static<typeof CrewView>;

export const HandDone = Type.Object({ key: Type.String({ minLength: 1, maxLength: 200 }) });
