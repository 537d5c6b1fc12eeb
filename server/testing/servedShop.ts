import type { MachineState } from '../../contract/machine/protocol.ts';
import { Dispatcher } from '../devices/dispatcher.ts';
import { type TestShop, idle } from './shopFixture.ts';

/** Looks for what follows from a word so often, so far apart (ms). */
const LOOKS = 60;
const APART_MS = 5;

/** A shop's dispatcher, served by hand: it hears what a test lets a printer say. */
export class ServedShop {
  readonly dispatcher: Dispatcher;
  private readonly listeners = new Map<string, (state: MachineState | undefined) => void>();
  private said = 0;

  constructor(private readonly shop: TestShop) {
    shop.link.watch = (machineId, onState) => {
      this.listeners.set(machineId, onState);
      return () => undefined;
    };
    this.dispatcher = new Dispatcher(shop);
    this.dispatcher.follow();
  }

  /** Lets a printer say something, and whatever follows from it happen: something is sent to it, or nothing for a while. */
  async says(printerId: string, change: Partial<MachineState> = {}): Promise<void> {
    const before = this.sends();
    // What a printer repeats at once is no news.
    this.said += 1;
    this.listeners.get(printerId)?.({ ...idle(printerId), reason: `word ${String(this.said)}`, ...change });
    for (let i = 0; i < LOOKS && this.sends() === before; i += 1) await moment(APART_MS);
    // Its answer is taken.
    await moment(4 * APART_MS);
  }

  private sends(): number {
    const { cared, sent } = this.shop.link;
    return cared.length + sent.length;
  }
}

const moment = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
