import { counted } from '../counted.ts';
import { runName } from '../flow/runName.ts';
import type { EventData, EventKind } from './eventData.ts';
import { metresText } from '../units/lengthText.ts';

const because = (reason: string | null, otherwise: string): string => reason ?? otherwise;

/** How late by the plan, in minutes up to two hours, then in hours. */
function lateBy(ms: number): string {
  const minutes = Math.round(ms / 60_000);
  return minutes < 120 ? `${String(minutes)} min` : `${(minutes / 60).toFixed(1)} h`;
}

function sizesChanged({ added, gone }: EventData['sizes.changed']): string {
  if (gone.length > 0 && added.length > 0) return `Size ${gone.join(', ')} is now ${added.join(', ')}`;
  if (gone.length > 0) return `Size ${gone.join(', ')} taken off the list`;
  return added.length > 0 ? `Size ${added.join(', ')} added` : 'Sizes changed';
}

function copiesChanged({ run, pieces, file, order }: EventData['run.copies']): string {
  const much = `${runName(run)}: ${String(Math.abs(pieces))} ${pieces > 0 ? 'more' : 'fewer'} of ${file}`;
  if (order === null) return pieces < 0 ? `${much}; they wait again` : much;
  return `${much}, ${String(order.beyond)} of them beyond what was ordered`;
}

function folderChanged({ path, paused }: EventData['folder.changed']): string {
  if (paused === null) return `Hot folder ${path} changed`;
  return paused ? `Hot folder ${path} paused` : `Hot folder ${path} is watched again`;
}

const refusedToo = (refused: number): string => (refused > 0 ? `; ${String(refused)} could not be changed` : '');

/** How a length along the media is said. @param digits behind the point of metres */
type AlongText = (mm: number, digits?: number) => string;

const READ_BY = { device: 'by the printer', eye: 'by eye', photo: 'from a picture' } as const;

const SIGNED_IN_BY = { password: 'with a password', provider: 'by the provider', code: 'with a code' } as const;

/** One sentence for each kind of event. Rows of every earlier version must still be readable: a kind is never given another meaning. */
const SENTENCES: { readonly [K in EventKind]: (data: EventData[K], along: AlongText) => string } = {
  'job.arrived': ({ file, queue, jobs, blocked }) =>
    `${file} arrived in ${queue}${jobs > 1 ? ` as ${String(jobs)} jobs` : ''}${blocked ? ' and is blocked' : ''}`,
  'file.gone': ({ file }) => `${file} was taken away before it was whole`,
  'file.refused': ({ file, reason }) => `${file} was refused: ${reason}`,
  'refusal.dismissed': ({ file }) => `${file}: its refusal is put away`,

  'job.ticket-came': ({ file, what }) => `${file}: its ticket came (${what})`,
  'job.changed': ({ file, what }) => `${file}: ${what} changed`,
  'jobs.changed': ({ jobs, what, refused }) => `${counted(jobs, 'job')}: ${what} changed${refusedToo(refused)}`,
  'jobs.changed-back': ({ jobs, file, refused }) =>
    `Change undone for ${file ?? counted(jobs, 'job')}${refusedToo(refused)}`,
  'job.routed': ({ file, printer, why }) => `${file} routed to ${printer}, ${why}`,
  'job.cancelled': ({ file }) => `${file} cancelled`,
  'job.restored': ({ file }) => `${file} restored`,
  'job.accepted': ({ file }) => `${file} accepted: ready`,
  'job.again': ({ file, copies }) => `${file} is printed again: ${counted(copies, 'copy', 'copies')}`,
  'job.priced': ({ file, priced }) => (priced ? `${file} has a price` : `${file} has no price any more`),
  'job.spoiled': ({ file, pieces }) =>
    `${file}: ${counted(pieces, 'spoiled piece')} ${pieces === 1 ? 'is' : 'are'} printed again`,
  'job.opened-anew': ({ file }) => `${file} opened as a new job`,
  'job.shelved': ({ file }) => `${file} is on the Shelf`,
  'job.dropped': ({ file }) => `${file} dropped, as its keep rule says`,

  'run.drafted': ({ run, pieces, jobs, printer }) =>
    `${runName(run)}: ${counted(pieces, 'piece')} of ${counted(jobs, 'job')} on the Bench for ${printer}`,
  'run.joined': ({ run, pieces }) => `${runName(run)}: ${counted(pieces, 'more piece')}`,
  'run.copies': copiesChanged,
  'run.segmented': ({ run, segments }) => `${runName(run)} cut into ${counted(segments, 'segment')}`,
  'run.series-joined': ({ run, segments }) => `${counted(segments, 'segment')} put together as ${runName(run)}`,
  'run.two-sided': ({ run, turn }) => `${runName(run)} is printed on two sides, turned ${turn}`,
  'run.one-sided': ({ run }) => `${runName(run)} is printed on one side`,
  'run.back-confirmed': ({ run, spool, turn }) =>
    `${spool ?? 'The media'} is loaded for the back of ${runName(run)}, turned ${turn}`,
  'run.stayed': ({ run, reason }) => `${runName(run)} waits on the Bench: ${reason}`,
  'run.rest': ({ run, pieces, of }) =>
    `${String(pieces)} of ${counted(of, 'piece')} of ${runName(run)} are printed again`,
  'run.dissolved': ({ run }) => `${runName(run)} dissolved; its pieces wait again`,

  'run.counted': ({ run, ml, estimateMl }) =>
    `${runName(run)} rendered: ${ml.toFixed(2)} ml of ink counted, ${estimateMl.toFixed(2)} ml estimated before`,
  'run.sampled': ({ run, ml, estimateMl, within }) =>
    `${runName(run)} sampled: ${ml.toFixed(2)} ml of ink within ${(within * 100).toFixed(1)} %, ${estimateMl.toFixed(2)} ml estimated before`,
  'run.queued': ({ run, printer, lengthMm, back }, along) =>
    `${runName(run)} queued on ${printer}: ${along(lengthMm)}${back ? ', a back' : ''}`,
  'series.queued': ({ runs, printer }) => `${counted(runs, 'segment')} queued on ${printer}`,
  'series.taken-back': ({ runs, gone }) =>
    `${counted(runs, 'segment')} taken back to the Bench${gone > 0 ? `, ${String(gone)} on the printer already` : ''}`,
  'run.taken-back': ({ run, draft }) =>
    `${runName(run)} taken back to the Bench${draft === run ? '' : ` as ${runName(draft)}`}`,
  'run.moved': ({ run, printer }) => `${runName(run)} moved to ${printer}`,
  'run.start-fixed': ({ run, startMs }) =>
    startMs === null ? `${runName(run)} starts when its turn comes` : `${runName(run)} has a fixed start`,
  'line.ordered': ({ printer, moved }) =>
    `The runs of ${printer} have a new order${moved === null ? '' : `: ${runName(moved)} comes earlier`}`,
  'spools.chosen': ({ runs, given, lines }) =>
    `${given === 0 ? `${counted(runs, 'run')} ${runs === 1 ? 'takes' : 'take'} any spool that is long enough` : `${counted(given, 'run')} ${given === 1 ? 'has its' : 'have their'} spool chosen`}${lines > 0 ? `, ${counted(lines, 'line')} put in order` : ''}`,
  'run.at-risk': ({ run, printer, lateMs }) =>
    `${runName(run)} on ${printer} will be ${lateBy(lateMs)} late as the line is now`,
  'run.in-time': ({ run, printer }) => `${runName(run)} on ${printer} will be in time again`,

  'run.sent': ({ run, printer }) => `${runName(run)} sent to ${printer}`,
  'run.printing': ({ run, resumedMm }, along) =>
    resumedMm === null ? `${runName(run)} is printing` : `${runName(run)} goes on at ${along(resumedMm)}`,
  'run.paused': ({ run, atMm, reason }, along) =>
    `${runName(run)} paused at ${along(atMm)}: ${because(reason, 'by hand')}`,
  'run.printed': ({ run, lengthMm, fedMm }, along) =>
    `${runName(run)} printed: ${along(lengthMm)}, ${along(fedMm)} fed`,
  'run.failed': ({ run, atMm, reason }, along) =>
    `${runName(run)} failed at ${along(atMm)}: ${because(reason, 'no reason given')}`,
  'run.cancelled': ({ run, atMm }, along) => `${runName(run)} cancelled${atMm === null ? '' : ` at ${along(atMm)}`}`,
  'printer.state': ({ printer, state, reason }) => `${printer} is ${state}${reason === null ? '' : `: ${reason}`}`,

  'spool.received': ({ spool, stock, lengthMm }, along) => `${spool} received: ${along(lengthMm, 1)} ${stock}`,
  'stock.ordered': ({ stock, lengthMm }, along) => `${along(lengthMm, 1)} of ${stock} ordered`,
  'stock.order-closed': ({ stock, lengthMm }, along) =>
    `No more of ${stock} is waited for; ${along(lengthMm, 1)} did not come`,
  'stock.counted': ({ spools, differences, mm, reason }, along) =>
    `${counted(spools, 'spool')} counted, ${differences === 0 ? 'all as they should be' : `${counted(differences, 'difference')} booked (${mm < 0 ? '−' : '+'}${along(Math.abs(mm), 1)})`}: ${reason}`,
  'spool.loaded': ({ spool, stock, printer, source }) => `${spool} (${stock}) loaded on ${printer}, ${source}`,
  'spool.unloaded': ({ spool }) => `${spool} unloaded, back on the rack`,
  'spool.measured': ({ spool, printer, source }) => `${spool} on ${printer}, ${source}, measured again`,
  'spool.corrected': ({ spool, beforeMm, leftMm, reason }, along) =>
    `${spool}: ${along(leftMm)} left instead of ${along(beforeMm)} (${reason})`,
  'spool.offcut': ({ offcut, spool, lengthMm }, along) => `${offcut}: ${along(lengthMm)} cut from ${spool}`,
  'spool.gone': ({ spool }) => `${spool} taken off the rack`,
  'spool.back': ({ spool }) => `${spool} is on the rack again`,

  'feed.measured': ({ printer, stock, measuredMm }) =>
    `${printer}: feed on ${stock} measured, ${measuredMm.toFixed(2)} mm of 500 mm`,
  'check.read': ({ printer, by, missing, weak, crooked }) =>
    `${printer}: nozzle check read ${READ_BY[by]}: ${String(missing)} missing, ${String(weak)} weak, ${String(crooked)} crooked`,
  'care.wanted': ({ care, printer }) => `${printer}: ${care} wanted now`,
  'care.asked': ({ care, printer, run }) => `${printer}: ${care} comes before ${runName(run)}`,
  'care.first': ({ care, printer, run }) =>
    `${printer}: ${care} goes first, since ${runName(run)} would keep it too long`,
  'care.began': ({ care, printer }) => `${printer}: ${care} begins`,
  'care.done': ({ care, printer, ml }) => `${printer}: ${care} done, ${ml.toFixed(2)} ml of ink`,
  'care.failed': ({ care, printer, reason }) => `${printer}: ${care} failed: ${because(reason, 'no reason given')}`,
  'care.stopped': ({ care, printer }) => `${printer}: ${care} stopped by hand`,
  'care.cancelled': ({ care, printer }) => `${printer}: ${care} taken out of the line`,
  'care.skipped': ({ care, printer, reason, ml }) =>
    `${printer}: ${care} skipped: ${reason}${ml > 0 ? `, ${ml.toFixed(2)} ml saved` : ''}`,
  'care.missed': ({ care, printer, reason }) => `${printer}: ${care} was not done: ${reason}`,
  'care-rule.made': ({ rule }) => `Rule: ${rule}`,
  'care-rule.changed': ({ rule, paused }) => `Rule ${paused ? 'paused' : 'changed'}: ${rule}`,
  'care-rule.removed': ({ rule }) => `Rule removed: ${rule}`,
  'run.marked': ({ run, important }) => `${runName(run)} is ${important ? 'marked as important' : 'no longer marked'}`,
  'timer.made': ({ care, printer, when }) => `${printer}: ${care} ${when}`,
  'timer.changed': ({ care, printer, when }) => `${printer}: timer changed: ${care} ${when}`,
  'timer.paused': ({ care, printer, when }) => `${printer}: timer paused: ${care} ${when}`,
  'timer.goes-on': ({ care, printer, when }) => `${printer}: timer goes on: ${care} ${when}`,
  'timer.removed': ({ care, printer, when }) => `${printer}: timer removed: ${care} ${when}`,
  'design.made': ({ design, printer }) => `Purge sheet ${design} made for ${printer}`,
  'design.changed': ({ design, printer }) => `Purge sheet ${design} of ${printer} changed`,
  'design.removed': ({ design, printer }) => `Purge sheet ${design} of ${printer} removed`,

  'clock.rate': ({ rate }) => `Shop clock runs at ${String(rate)}×`,
  'clock.step': ({ byMs }) => `Shop clock steps ${String(Math.round(byMs / 60_000))} min on`,
  'rules.changed': ({ rules }) => `${counted(rules, 'routing rule')} set`,
  'folder.created': ({ path, queue }) => `Hot folder ${path} feeds ${queue}`,
  'folder.changed': folderChanged,
  'folder.removed': ({ path }) => `${path} is no longer a hot folder; its files stay there`,
  'printer.made': ({ printer }) => `${printer} added to the floor`,
  'printer.changed': ({ printer }) => `The description of ${printer} changed`,
  'printer.removed': ({ printer }) => `${printer} taken off the floor`,
  'queue.changed': ({ queue }) => `${queue} changed for jobs that arrive from now on`,
  'queue.copied': ({ queue, from }) => `${queue} made as a copy of ${from}`,
  'shop.changed': () => 'Shop hours, holidays or limits changed',
  'messages.changed': ({ people }) =>
    `Messages set: ${people === 1 ? '1 person is' : `${String(people)} people are`} told`,
  'crew.works': () => 'The crew loads, confirms and empties',
  'crew.rests': () => 'The crew rests: whoever is at this page is the only one here',
  'profile.putBack': ({ profile }) => `Profile ${profile} put back as it was before`,
  'profile.taken': ({ profile, replaced }) => `Profile ${profile} ${replaced ? 'replaced' : 'taken in'}`,
  'sizes.changed': sizesChanged,
  'stock.made': ({ stock, like }) => `${stock} made, like ${like}`,
  'stock.changed': ({ stock }) => `${stock} changed`,
  'stock.settings': ({ stock, printer }) => `${stock} on ${printer} changed for jobs that arrive from now on`,
  'stocks.settings-undone': ({ rows, stayed }) =>
    `${counted(rows, 'set of run settings', 'sets of run settings')} put back${stayed > 0 ? `, ${String(stayed)} changed since and left` : ''}`,
  'stocks.settings': ({ changes, stocks }) =>
    `${counted(changes, 'run setting')} of ${counted(stocks, 'stock')} changed`,
  'preset.created': ({ preset }) => `Preset ${preset} created`,
  'preset.changed': ({ preset, before }) =>
    preset === before ? `Preset ${preset} changed` : `Preset ${before} is now ${preset}`,
  'preset.deleted': ({ preset }) => `Preset ${preset} deleted`,

  'away.armed': ({ runs, held }) =>
    `Away plan armed: ${counted(runs, 'run')} by ${runs === 1 ? 'itself' : 'themselves'}${held > 0 ? `, ${counted(held, 'run')} held for a person` : ''}`,
  'night.accepted': ({ queued, moved, ordered }) => {
    const parts = [
      ...(queued > 0 ? [`${counted(queued, 'run')} queued`] : []),
      ...(moved > 0 ? [`${counted(moved, 'run')} moved`] : []),
      ...(ordered > 0 ? [`${counted(ordered, 'line')} in another order`] : []),
    ];
    return `Proposed night taken: ${parts.join(', ')}`;
  },
  'night.taken-back': ({ stayed }) =>
    `Proposed night taken back${stayed > 0 ? `; ${counted(stayed, 'run')} had begun and stayed` : ''}`,
  'away.disarmed': () => 'Away plan disarmed',
  'away.ended': ({ printed, planned }) =>
    `The time away is over: ${String(printed)} of ${counted(planned, 'run')} printed`,

  'person.made': ({ person, role }) => `${person} added as ${role}`,
  'person.changed': ({ person }) => `What is known of ${person} changed`,
  'person.role': ({ person, role }) => `${person} is ${role} now`,
  'person.left': ({ person }) => `${person} taken off the list of people`,
  'person.code': ({ person }) => `${person} was given a code to choose a password with`,
  'person.password': ({ person }) => `${person} chose a password`,
  'person.one-time-codes': ({ person, on }) =>
    `${person} signs in ${on ? 'with' : 'without'} one-time codes from now on`,
  'person.signed-in': ({ person, device, by }) =>
    `${person} signed in ${SIGNED_IN_BY[by]}${device === '' ? '' : `, on ${device}`}`,
  'person.signed-out': ({ person, sessions }) =>
    `${person} signed out${sessions > 1 ? ` on ${counted(sessions, 'device')}` : ''}`,
  'token.made': ({ token, scope, person }) => `Token ${token} of ${person} made: ${scope}`,
  'token.removed': ({ token, person }) => `Token ${token} of ${person} removed`,
  'sign-in.on': () => 'People have to sign in from now on',
  'sign-in.off': () => 'Nobody has to sign in on this machine any more',
  'provider.changed': ({ provider }) =>
    provider === null ? 'Nobody signs in by a provider any more' : `People may sign in by ${provider}`,
};

/** A row of the log as far as its sentence needs it: rows of a shop before this version bring a text instead of data. */
interface LoggedEvent {
  readonly kind: string;
  readonly data: unknown;
  readonly text: string;
}

/**
 * The sentence of an event.
 * @param event a row of the log; its data are those that its kind was written with
 * @param along how its lengths are said; metres where nothing else is chosen
 * @returns plain English; the stored text of a row without data, or of a kind that this version doesn't know
 */
export function eventSentence({ kind, data, text }: LoggedEvent, along: AlongText = metresText): string {
  if (data === null || data === undefined || !isEventKind(kind)) return text;
  return (SENTENCES[kind] as (data: unknown, along: AlongText) => string)(data, along);
}

/** Whether a row of the log is of a kind that has a sentence here; rows of older versions keep their text. */
export function isEventKind(kind: string): kind is EventKind {
  return Object.hasOwn(SENTENCES, kind);
}
