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

export type RunCommand = 'pause' | 'resume' | 'cancel';

/** The line to printers. Calls reject when the line is dead; the caller tries again. */
export interface MachineLink {
  /** Idempotent by run id and attempt: a run that the machine knows already is only reported on. */
  send(machineId: string, runId: string, attempt: number, run: MachineRun): Promise<RunReport>;
  /** Undefined: the machine has never seen this attempt. */
  report(machineId: string, runId: string, attempt: number): Promise<RunReport | undefined>;
  command(machineId: string, runId: string, attempt: number, command: RunCommand): Promise<RunReport>;
  /** Idempotent by care id and attempt, as {@link send}. */
  care(machineId: string, careId: string, attempt: number, order: CareOrder): Promise<CareReport>;
  /** Undefined: the machine has never seen this attempt. */
  careReport(machineId: string, careId: string, attempt: number): Promise<CareReport | undefined>;
  cancelCare(machineId: string, careId: string, attempt: number): Promise<CareReport>;
  /** The devices that answer on the line. */
  machines(): Promise<MachineName[]>;
  /** What a device can do; undefined: it does not say. */
  about(machineId: string): Promise<MachineAbout | undefined>;
  /** What it says of itself now, asked. */
  state(machineId: string): Promise<MachineState>;
  load(machineId: string, sourceId: string, media: MediaLoad): Promise<MachineState>;
  unload(machineId: string, sourceId: string): Promise<MachineState>;
  emptied(machineId: string): Promise<MachineState>;
  /** Keeps listening until the returned function is called; told `undefined` when the line is lost. */
  watch(machineId: string, onState: (state: MachineState | undefined) => void): () => void;
  /** The devices follow the shop's clock, which may stand still again at an instant. */
  setClock(rate: number, shopMs: number, untilMs: number | null): Promise<void>;
}
