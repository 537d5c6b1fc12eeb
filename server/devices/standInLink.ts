import { createParser } from 'eventsource-parser';
import type { MachineAbout } from '../../contract/machine/about.ts';
import type {
  CareOrder,
  CareReport,
  MachineName,
  MachineRun,
  MediaLoad,
  MachineState,
  RunReport,
} from '../../contract/machine/protocol.ts';
import type { MachineLink, RunCommand } from '../ports/machineLink.ts';

const CALL_MS = 5_000;
/** Without a sign of life for so long the line counts as lost. */
const SILENCE_MS = 4_000;
const RETRY_MS = 500;

const carePath = (machineId: string, careId: string, attempt: number): string =>
  `/machines/${machineId}/care/${careId}/${String(attempt)}`;

/** The link to stand-ins: the machine protocol over HTTP on loopback. */
export class StandInLink implements MachineLink {
  /** @param failed told of what a listener threw: that is no fault of the line */
  constructor(
    private readonly base: () => string,
    private readonly failed: (error: unknown, machineId: string) => void = () => undefined,
  ) {}

  async send(machineId: string, runId: string, attempt: number, run: MachineRun): Promise<RunReport> {
    return (await this.call(
      'PUT',
      `/machines/${machineId}/runs/${runId}/${String(attempt)}`,
      run,
      40_000,
    )) as RunReport;
  }

  async report(machineId: string, runId: string, attempt: number): Promise<RunReport | undefined> {
    const path = `/machines/${machineId}/runs/${runId}/${String(attempt)}`;
    return (await unlessUnknown(this.call('GET', path))) as RunReport | undefined;
  }

  async command(machineId: string, runId: string, attempt: number, command: RunCommand): Promise<RunReport> {
    return (await this.call('POST', `/machines/${machineId}/runs/${runId}/${String(attempt)}/${command}`)) as RunReport;
  }

  async care(machineId: string, careId: string, attempt: number, order: CareOrder): Promise<CareReport> {
    return (await this.call('PUT', carePath(machineId, careId, attempt), order)) as CareReport;
  }

  async careReport(machineId: string, careId: string, attempt: number): Promise<CareReport | undefined> {
    return (await unlessUnknown(this.call('GET', carePath(machineId, careId, attempt)))) as CareReport | undefined;
  }

  async cancelCare(machineId: string, careId: string, attempt: number): Promise<CareReport> {
    return (await this.call('POST', `${carePath(machineId, careId, attempt)}/cancel`)) as CareReport;
  }

  async machines(): Promise<MachineName[]> {
    return (await this.call('GET', '/machines')) as MachineName[];
  }

  async about(machineId: string): Promise<MachineAbout | undefined> {
    return (await unlessUnknown(this.call('GET', `/machines/${machineId}`))) as MachineAbout | undefined;
  }

  async state(machineId: string): Promise<MachineState> {
    return (await this.call('GET', `/machines/${machineId}/state`)) as MachineState;
  }

  async load(machineId: string, sourceId: string, media: MediaLoad): Promise<MachineState> {
    return (await this.call('PUT', `/machines/${machineId}/sources/${sourceId}`, media)) as MachineState;
  }

  async unload(machineId: string, sourceId: string): Promise<MachineState> {
    return (await this.call('DELETE', `/machines/${machineId}/sources/${sourceId}`)) as MachineState;
  }

  async emptied(machineId: string): Promise<MachineState> {
    return (await this.call('POST', `/machines/${machineId}/emptied`)) as MachineState;
  }

  async setClock(rate: number, shopMs: number, untilMs: number | null): Promise<void> {
    await this.call('PUT', '/control/clock', { rate, shopMs, untilMs });
  }

  watch(machineId: string, onState: (state: MachineState | undefined) => void): () => void {
    const stop = new AbortController();
    void this.listen(machineId, onState, stop.signal);
    return () => {
      stop.abort();
    };
  }

  private async listen(
    machineId: string,
    onState: (state: MachineState | undefined) => void,
    stop: AbortSignal,
  ): Promise<void> {
    const told = (state: MachineState | undefined): void => {
      try {
        onState(state);
      } catch (error) {
        this.failed(error, machineId);
      }
    };
    let alive = true;
    while (!stop.aborted) {
      try {
        await this.stream(machineId, stop, (state) => {
          alive = true;
          told(state);
        });
      } catch (error) {
        // A line that breaks is everyday and said below. What was said on it and can't be read is not.
        if (error instanceof SyntaxError) this.failed(error, machineId);
      }
      if (alive) told(undefined);
      alive = false;
      await new Promise((done) => setTimeout(done, RETRY_MS));
    }
  }

  private async stream(machineId: string, stop: AbortSignal, onState: (state: MachineState) => void): Promise<void> {
    const silence = new AbortController();
    let timer = setTimeout(() => {
      silence.abort();
    }, SILENCE_MS);
    try {
      const answer = await fetch(`${this.base()}/machines/${machineId}/events`, {
        signal: AbortSignal.any([stop, silence.signal]),
      });
      if (!answer.ok || !answer.body) throw new LinkError(answer.status, 'no event stream');
      const decoder = new TextDecoder();
      const parser = createParser({
        onEvent: ({ data }) => {
          onState(JSON.parse(data) as MachineState);
        },
      });
      for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
        clearTimeout(timer);
        timer = setTimeout(() => {
          silence.abort();
        }, SILENCE_MS);
        parser.feed(decoder.decode(chunk, { stream: true }));
      }
    } finally {
      clearTimeout(timer);
    }
  }

  private async call(method: string, path: string, body?: unknown, timeoutMs = CALL_MS): Promise<unknown> {
    const answer = await fetch(this.base() + path, {
      method,
      signal: AbortSignal.timeout(timeoutMs),
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    if (!answer.ok)
      throw new LinkError(answer.status, `${method} ${path}: ${String(answer.status)} ${await answer.text()}`);
    return answer.json();
  }
}

async function unlessUnknown<T>(asked: Promise<T>): Promise<T | undefined> {
  try {
    return await asked;
  } catch (error) {
    if (error instanceof LinkError && error.status === 404) return undefined;
    throw error;
  }
}

class LinkError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}
