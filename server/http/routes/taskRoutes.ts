import { TaskView } from '../../../contract/api/task.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type Route, route } from '../route.ts';

/** Heavy work that a request was answered with: how far it is, what came of it, and its end before its time. */
export function taskRoutes({ work, tasks }: Pick<Shop, 'work' | 'tasks'>): Route[] {
  const found = (view: TaskView | undefined, id: string | undefined): TaskView => {
    if (view) return view;
    throw new Refused(
      404,
      'no-such-task',
      `There is no task ${id ?? ''}, or it ended long ago.`,
      undefined,
      'Ask for its result again.',
    );
  };
  return [
    route({
      method: 'get',
      path: '/api/tasks/:id',
      needs: 'see',
      summary: 'How far a task is, and its result once it is done',
      answer: TaskView,
      handle: ({ params }) => found(tasks.view(params.id ?? '') ?? work.view(params.id ?? ''), params.id),
    }),
    route({
      method: 'delete',
      path: '/api/tasks/:id',
      needs: 'coordinate',
      summary: 'Cancels a task; what is over stays as it is',
      answer: TaskView,
      handle: ({ params }) => found(tasks.cancel(params.id ?? '') ?? work.cancel(params.id ?? ''), params.id),
    }),
  ];
}
