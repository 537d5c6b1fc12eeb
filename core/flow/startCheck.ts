import { type TakeUp, outputTrouble } from '../stock/takeUp.ts';
import { mmText, metresText } from '../units/lengthText.ts';

/** What is known when a run could be sent. Lengths mm. */
export interface StartQuestion {
  readonly run: {
    readonly name: string;
    readonly stockId: string;
    readonly stockName: string;
    readonly mediaWidthMm: number;
    /** From its spool; 0 for a back. */
    readonly needMm: number;
    /** That comes out of the printer. */
    readonly outMm: number;
    readonly byHand: boolean;
    readonly unattended: boolean;
    readonly fixedStartMs: number | null;
    readonly back: 'no' | 'front not printed' | 'not confirmed' | 'confirmed';
    /** How its media is turned, in words. */
    readonly turn: string | null;
    /** The spool that a person has chosen for it, while it is long enough and within reach; null: any will do. */
    readonly meant?: { readonly id: string; readonly label: string; readonly place: string } | null;
    /** The lot on which its order was begun and is to be ended; null: any will do. */
    readonly lot?: string | null;
    /** Channels that it fires and that can't print in its mode, with the reason. */
    readonly unfit: readonly { readonly name: string; readonly text: string }[];
  };
  readonly printer: {
    readonly name: string;
    readonly state: string;
    readonly reason: string | null;
    readonly unattended: boolean;
    readonly takeUp: boolean;
    readonly freeHangMm: number | null;
    readonly collectsMm: number | null;
    readonly collectedMm: number;
  };
  /** Everything that stands in its sources. */
  readonly loaded: readonly LoadedSpool[];
  readonly attended: boolean;
  readonly nowMs: number;
}

export interface LoadedSpool {
  readonly id: string;
  readonly label: string;
  readonly lot: string;
  readonly stockId: string;
  readonly stockName: string;
  readonly sourceName: string;
  /** As the device measures it, else as a person did. */
  readonly widthMm: number;
  readonly leftMm: number;
  readonly takeUp: TakeUp | null;
}

/** Why a run does not start, with the way out; `hand` where only a person can mend it. */
export interface StartTrouble {
  readonly code:
    | 'off'
    | 'fault'
    | 'front'
    | 'heads'
    | 'confirm'
    | 'nothing-loaded'
    | 'wrong-stock'
    | 'narrow'
    | 'short'
    | 'other-spool'
    | 'other-lot'
    | 'free-hang'
    | 'basket'
    | 'fixed-start'
    | 'nobody';
  readonly text: string;
  readonly way: string;
  /** What it waits for, in two or three words: `load Mesh banner 1600`. */
  readonly brief: string;
  /** Whether a person has to do something; else time alone will do. */
  readonly hand: boolean;
}

function briefOf(code: StartTrouble['code'], stockName: string): string {
  const briefs: Record<StartTrouble['code'], string> = {
    off: 'switch it on',
    fault: 'clear the fault',
    front: 'the front is printed first',
    heads: 'clean the heads',
    confirm: 'turn the media and confirm',
    'nothing-loaded': `load ${stockName}`,
    'wrong-stock': `load ${stockName}`,
    narrow: `load a wider ${stockName}`,
    short: `load a longer ${stockName}`,
    'other-spool': 'load the spool it is meant for',
    'other-lot': 'load the lot its order was begun on',
    'free-hang': 'cut the run into segments',
    basket: 'empty the basket',
    'fixed-start': 'its time',
    nobody: 'somebody there',
  };
  return briefs[code];
}

/** What a person does for a back, step by step. */
export const TURN_WAY = 'Take the roll out, turn it, load it, confirm.';

/** A roll that measures less than this below what was laid out for would lose the edges. */
export const NARROWER_MM = 3;

export type StartAnswer =
  | { readonly ok: true; readonly spool: LoadedSpool | undefined }
  | { readonly ok: false; readonly trouble: StartTrouble };

/**
 * Whether a run may be sent now, and from which spool; else the one thing that stands in the way. The same check decides in
 * the dispatcher and is shown to people. Of several spools of the stock the one with the least that is enough is taken.
 */
export function startCheck(question: StartQuestion): StartAnswer {
  const { run, printer, attended, nowMs } = question;
  const no = (code: StartTrouble['code'], text: string, way: string, hand = true): StartAnswer => ({
    ok: false,
    trouble: { code, text, way, brief: briefOf(code, run.stockName), hand },
  });
  if (printer.state === 'off') return no('off', `${printer.name} does not answer`, 'Check that it is switched on.');
  if (printer.state === 'faulted' || printer.state === 'waiting') {
    return no('fault', `${printer.name}: ${printer.reason ?? printer.state}`, 'Clear the fault at the printer.');
  }
  const [unfit] = run.unfit;
  if (unfit) {
    return no(
      'heads',
      `${unfit.name} of ${printer.name} can't print ${run.name}: ${unfit.text}`,
      'Clean it and check it again under Heads, or move the run.',
    );
  }
  if (run.back === 'front not printed')
    return no('front', `The front of ${run.name} is not printed yet`, 'It waits.', false);
  if (run.back === 'not confirmed') {
    const turned = run.turn === null ? '' : ` ${run.turn}`;
    return no('confirm', `Turn the media on ${printer.name}${turned} for the back, ${run.name}`, TURN_WAY);
  }
  if (run.fixedStartMs !== null && run.fixedStartMs > nowMs) {
    return no('fixed-start', `${run.name} is not to start yet`, 'It waits for its time.', false);
  }
  const needsSomebody = run.byHand || !run.unattended || !printer.unattended;
  if (needsSomebody && !attended) {
    return no('nobody', `${run.name} needs somebody there, and nobody is`, 'It waits for shop hours.', false);
  }
  if (run.back === 'confirmed') return { ok: true, spool: undefined };
  const spool = spoolFor(question);
  return 'code' in spool ? { ok: false, trouble: spool } : mayComeOut(question, spool, no);
}

/** The spool that a run would be printed on: of its stock, wide and long enough, and of those the shortest. Else what is missing. */
function spoolFor({ run, printer, loaded }: StartQuestion): LoadedSpool | StartTrouble {
  const trouble = (code: StartTrouble['code'], text: string, way: string): StartTrouble => ({
    code,
    text,
    way,
    brief: briefOf(code, run.stockName),
    hand: true,
  });
  const right = loaded.filter(({ stockId }) => stockId === run.stockId);
  const [other] = loaded;
  if (right.length === 0) {
    return other
      ? trouble(
          'wrong-stock',
          `${printer.name} holds ${loaded.map((each) => each.stockName).join(' and ')}; ${run.name} is for ${run.stockName}`,
          `Load ${run.stockName}, or move the run.`,
        )
      : trouble(
          'nothing-loaded',
          `Nothing is loaded on ${printer.name}; ${run.name} is for ${run.stockName}`,
          `Load ${run.stockName}.`,
        );
  }
  const wide = right.filter(({ widthMm }) => widthMm >= run.mediaWidthMm - NARROWER_MM);
  const [narrow] = right;
  if (wide.length === 0 && narrow) {
    return trouble(
      'narrow',
      `${narrow.label} is ${mmText(narrow.widthMm, 0)} wide; ${run.name} was laid out for ${mmText(run.mediaWidthMm, 0)}`,
      'Load a wider one, or take the run back and lay it out anew.',
    );
  }
  const longEnough = wide.filter(({ leftMm }) => leftMm >= run.needMm - 1e-6).sort((a, b) => a.leftMm - b.leftMm);
  const { lot: begunOn = null } = run;
  const enough = longEnough.filter(({ lot }) => begunOn === null || lot === begunOn);
  const [ofOtherLot] = longEnough;
  if (begunOn !== null && enough.length === 0 && ofOtherLot) {
    return trouble(
      'other-lot',
      `The order of ${run.name} was begun on lot ${begunOn}; ${ofOtherLot.label} on ${printer.name} is of lot ${ofOtherLot.lot === '' ? 'unknown' : ofOtherLot.lot}`,
      `Load a spool of lot ${begunOn}, or take “one lot” off the ticket.`,
    );
  }
  const longest = [...wide].sort((a, b) => b.leftMm - a.leftMm)[0];
  const { meant = null } = run;
  const [spool] = meant === null ? enough : enough.filter(({ id }) => id === meant.id);
  if (spool) return spool;
  const [loadedInstead] = enough;
  if (meant !== null && loadedInstead) {
    return trouble(
      'other-spool',
      `${run.name} is meant for ${meant.label}; ${loadedInstead.label} is loaded on ${printer.name}`,
      `Load ${meant.label} (${meant.place}), or let the run take what is loaded.`,
    );
  }
  return trouble(
    'short',
    `${longest?.label ?? ''} has ${metresText(longest?.leftMm ?? 0)} left; ${run.name} takes ${metresText(run.needMm)}`,
    'Load a longer one, or take pieces out of the run.',
  );
}

function mayComeOut(
  { run, printer }: StartQuestion,
  spool: LoadedSpool,
  no: (code: StartTrouble['code'], text: string, way: string) => StartAnswer,
): StartAnswer {
  const out = outputTrouble(printer, spool.takeUp, run.outMm, printer.collectedMm);
  if (out?.code === 'free-hang') {
    return no(
      'free-hang',
      `${run.name} is ${metresText(out.needMm)} long and may hang ${metresText(out.haveMm)} free`,
      printer.takeUp ? 'Use the take-up, or cut the run into segments.' : 'Cut the run into segments.',
    );
  }
  if (out) {
    return no(
      'basket',
      `The basket takes ${metresText(out.haveMm)} more; ${run.name} is ${metresText(out.needMm)}`,
      'Empty it, and confirm that it is empty.',
    );
  }
  return { ok: true, spool };
}
