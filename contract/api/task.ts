import { Type, type Static } from 'typebox';
import { ErrorDetail, nullable } from './common.ts';

const TASK_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const;
export type TaskState = (typeof TASK_STATES)[number];

/** Heavy work of the server that somebody asked for. */
export const TaskView = Type.Object({
  taskId: Type.String(),
  kind: Type.String({ description: 'what is being made' }),
  state: Type.Enum([...TASK_STATES]),
  progress: nullable(Type.Number({ minimum: 0, maximum: 1, description: 'share that is done; null: not known' })),
  result: Type.Unknown({
    description: 'the answer of the request, once it is done; null for a file: ask for it again',
  }),
  error: nullable(ErrorDetail),
});
export type TaskView = Static<typeof TaskView>;

/** The answer with status 202: it takes longer than a request should; the task says how far it is. */
export const TaskStarted = Type.Object({ taskId: Type.String() });
export type TaskStarted = Static<typeof TaskStarted>;
