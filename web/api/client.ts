import type { ErrorBody } from '../../contract/api/common.ts';
import { inUnits } from '../ui/text/inUnits.ts';
import { dropTask, showTask } from './longTasks.ts';
import { ownHeaders, signedInAgain } from './signedOut.ts';
import type { TaskStarted, TaskView } from '../../contract/api/task.ts';

/** A refusal of the server, as it said it. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy: string | undefined,
  ) {
    super(message);
  }
}

/** What the server sent, asked or not, with its lengths as this person reads them: no sentence is forgotten, and names stay as they are. */
export function received(text: string): unknown {
  return JSON.parse(inUnits(text));
}

async function answerOf(response: Response): Promise<unknown> {
  const text = await response.text();
  const body: unknown = text === '' ? {} : received(text);
  if (response.ok) return body;
  const { error } = body as Partial<ErrorBody>;
  throw new ApiError(
    response.status,
    error?.code ?? 'unknown',
    error?.message ?? `The server answered ${String(response.status)}.`,
    error?.remedy,
  );
}

/** Whether an answer says that nobody is signed in here any more; a wrong password is told otherwise. */
async function isSignedOut(response: Response): Promise<boolean> {
  if (response.status !== 401) return false;
  const { error } = (await response.clone().json()) as Partial<ErrorBody>;
  return error?.code === 'sign-in';
}

/** What is asked, with headers as plain words. */
interface Asked extends Omit<RequestInit, 'headers'> {
  readonly headers?: Readonly<Record<string, string>>;
}

/** Asks; where nobody is signed in any more, waits until somebody is, and asks again: nothing that was begun is lost. */
async function sent(path: string, init?: Asked): Promise<Response> {
  for (;;) {
    const response = await fetch(path, { ...init, headers: { ...init?.headers, ...ownHeaders() } });
    if (!(await isSignedOut(response))) return response;
    await signedInAgain();
  }
}

async function fetched(path: string, init?: Asked): Promise<Response> {
  try {
    return await sent(path, init);
  } catch {
    throw new ApiError(
      0,
      'no-server',
      'The server does not answer.',
      'Nothing was changed. It is tried again by itself.',
    );
  }
}

async function ask(path: string, init?: Asked): Promise<unknown> {
  const response = await fetched(path, init);
  if (response.status !== 202) return answerOf(response);
  return (await endOfTask(response)).result;
}

/** How long to wait before a task is asked for again: soon at first, then less and less often (ms). */
const FIRST_WAIT_MS = 250;
const LONGEST_WAIT_MS = 2000;

/**
 * Follows the task that a heavy request was answered with until it is over.
 * @throws ApiError as the request would have been refused, where it failed or was cancelled
 */
async function endOfTask(started: Response): Promise<TaskView> {
  const { taskId } = (await answerOf(started)) as TaskStarted;
  try {
    for (let wait = FIRST_WAIT_MS; ; wait = Math.min(LONGEST_WAIT_MS, wait * 1.5)) {
      await new Promise((done) => setTimeout(done, wait));
      const task = (await answerOf(await fetched(`/api/tasks/${taskId}`))) as TaskView;
      const { state, error, kind, progress } = task;
      if (state === 'done') return task;
      if (state === 'failed' || state === 'cancelled') {
        throw new ApiError(409, error?.code ?? state, error?.message ?? `It was ${state}.`, error?.remedy);
      }
      showTask({ taskId, title: kind, progress });
    }
  } finally {
    dropTask(taskId);
  }
}

/** Whether something ended only because a person no longer wanted it: that is no fault, and not tried again. */
export function wasCancelled(error: unknown): boolean {
  return error instanceof ApiError && error.code === 'cancelled';
}

/** Asks the server for something; where it takes long, waits until it is made. */
export async function getJson<T>(path: string): Promise<T> {
  return (await ask(path)) as T;
}

/** A file that the server makes, under the name that it gives. */
export async function getFile(path: string, body?: unknown): Promise<{ readonly name: string; readonly blob: Blob }> {
  const asked: Asked =
    body === undefined
      ? {}
      : { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } };
  const askOnce = async (): Promise<Response> => {
    const answer = await sent(path, asked).catch(() => undefined);
    if (!answer) throw new ApiError(0, 'no-server', 'The server does not answer.', 'Try again when it is back.');
    return answer;
  };
  let response = await askOnce();
  if (response.status === 202) {
    await endOfTask(response);
    // It is made now: asked for once more, it is there.
    response = await askOnce();
  }
  if (!response.ok) await answerOf(response);
  const name = /filename="?([^"]+)"?/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'file';
  return { name, blob: await response.blob() };
}

/** Hands a file to the browser to be kept. */
export function keepFile({ name, blob }: { readonly name: string; readonly blob: Blob }): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Has the server do something; refused as it says, with its way out. */
export async function sendJson<T>(
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
  headers: Readonly<Record<string, string>> = {},
): Promise<T> {
  return (await ask(path, {
    method,
    headers: { ...headers, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  })) as T;
}

/** Sends a form, with files in it; where the answer takes long, waits until it is there. */
export async function sendForm<T>(path: string, body: FormData, method: 'POST' | 'PUT' = 'POST'): Promise<T> {
  return (await ask(path, { method, body })) as T;
}

/** Sends files to a queue, with a preset, to wait there or to go on to the printer; answered with what was taken and what was refused, also when all were refused. */
export async function sendFiles<T>(
  path: string,
  how: { readonly queueId: string; readonly presetId: string | null; readonly send: boolean },
  files: readonly File[],
): Promise<T> {
  const form = new FormData();
  form.append('queueId', how.queueId);
  if (how.presetId !== null) form.append('presetId', how.presetId);
  if (how.send) form.append('send', 'true');
  for (const file of files) form.append('files', file, file.name);
  let response: Response;
  try {
    response = await sent(path, { method: 'POST', body: form });
  } catch {
    throw new ApiError(
      0,
      'no-server',
      'The server does not answer.',
      `Drop the ${String(files.length)} files again when it is back.`,
    );
  }
  if (response.status === 202) return (await endOfTask(response)).result as T;
  if (response.status === 422) return (await response.json()) as T;
  return (await answerOf(response)) as T;
}

/** An error in words for people, with the way out where there is one. */
export function errorText(error: unknown): string {
  if (error instanceof ApiError) return error.remedy === undefined ? error.message : `${error.message} ${error.remedy}`;
  return error instanceof Error ? error.message : 'Something went wrong.';
}
